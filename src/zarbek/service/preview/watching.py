"""Looking at a folder, and showing it again when something in it changes."""

from __future__ import annotations

import logging
import sys
import time

from django.db import close_old_connections
from watchfiles import DefaultFilter
from watchfiles import watch as changes_of

from zarbek.service.preview.state import Shown
from zarbek.service.preview.tree import WorkingTree

logger = logging.getLogger(__name__)
#: Changes so close together are one.
TOGETHER_MS, STEP_MS = 60, 20


def watch(tree: WorkingTree) -> None:
    """Until the process ends."""
    tree.index()
    for _ in changes_of(tree.path, watch_filter=DefaultFilter(), debounce=TOGETHER_MS, step=STEP_MS):
        close_old_connections()
        try:
            _say(tree.show(time.monotonic()))
            tree.index()
        except Exception:  # The edge of the thread: the next change is another chance.
            logger.exception("what was saved could not be shown")


def _say(shown: Shown) -> None:
    if shown.problem:
        told = f"Not shown: {shown.problem}"
    else:
        told = f"Shown after {shown.seconds:.2f} s: {shown.errors} errors, {shown.warnings} warnings."
    print(told, file=sys.stderr, flush=True)
