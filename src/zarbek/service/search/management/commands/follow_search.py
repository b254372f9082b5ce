"""Keep this machine's search index in step. Started by ``work``, which watches it."""

from __future__ import annotations

import logging
import time
from typing import Any

from django.core.management.base import BaseCommand
from django.db import close_old_connections

from zarbek.service.common.watched_process import until_told_to_stop
from zarbek.service.search.actions import Follower, mend_index, note_node
from zarbek.service.search.engine import IndexUnavailable, get_index

logger = logging.getLogger(__name__)
LOOK_EVERY_S = 0.2
#: Between two looks for what was missed, and two words that this machine lives.
MEND_EVERY_S = 120.0


class Command(BaseCommand):
    """Follows the changes of what search finds, one process a machine."""

    help = "Keep this machine's search index in step until told to stop."

    def handle(self, *args: Any, **options: Any) -> None:
        """Follow until told to stop; wait where another process of the machine does."""
        with until_told_to_stop():
            while True:
                with get_index().following() as is_ours:
                    if is_ours:
                        self._follow()
                time.sleep(1.0)

    def _follow(self) -> None:
        mended_at, follower = time.monotonic(), Follower()
        while True:
            close_old_connections()
            try:
                followed = follower.follow()
                if time.monotonic() - mended_at > MEND_EVERY_S:
                    mended_at = time.monotonic()
                    mend_index()
                    note_node()
            except IndexUnavailable as error:
                logger.warning("the search index could not be written: %s", error)
                followed = 0
            if not followed:
                time.sleep(LOOK_EVERY_S)
