"""Do what comes round by the clock. Started by ``work``, which watches it."""

from __future__ import annotations

import time
from typing import Any

from django.core.management.base import BaseCommand
from django.db import close_old_connections

from zarbek.service.common.watched_process import until_told_to_stop
from zarbek.service.publishing.actions.schedule import run_due_chores

LOOK_EVERY_S = 1.0


class Command(BaseCommand):
    """Does chores when they are due, in a process of its own."""

    help = "Do what comes round by the clock until told to stop."

    def handle(self, *args: Any, **options: Any) -> None:
        """Do chores until told to stop."""
        with until_told_to_stop():
            while True:
                close_old_connections()
                run_due_chores()
                time.sleep(LOOK_EVERY_S)
