"""Do what comes round by the clock. Started by ``work``, which watches it."""

from __future__ import annotations

import logging
import signal
import sys
import time
from typing import Any

from django.core.management.base import BaseCommand
from django.db import OperationalError, close_old_connections

from zarbek.service.publishing.actions.schedule import run_due_chores

logger = logging.getLogger(__name__)
#: Of sysexits.h: it may go better later.
TRY_LATER = 75
LOOK_EVERY_S = 1.0


class Command(BaseCommand):
    """Does chores when they are due, in a process of its own."""

    help = "Do what comes round by the clock until told to stop."

    def handle(self, *args: Any, **options: Any) -> None:
        """Do chores until told to stop."""
        signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
        try:
            while True:
                close_old_connections()
                run_due_chores()
                time.sleep(LOOK_EVERY_S)
        except OperationalError as error:
            logger.warning("the database went away: %s", error)
            sys.exit(TRY_LATER)
