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
#: Nobody saves for so long: what takes longer is done then.
IDLE_MS = 300


def watch(tree: WorkingTree) -> None:
    """Until the process ends."""
    is_found = False  # What is saved from now on is seen, however long it takes to look elsewhere.
    saves = changes_of(
        tree.path, watch_filter=DefaultFilter(), debounce=TOGETHER_MS, step=STEP_MS, rust_timeout=IDLE_MS,
        yield_on_timeout=True,
    )  # fmt: skip
    for saved in saves:
        if not saved and tree.is_whole and is_found:
            continue
        close_old_connections()
        try:
            if saved:
                _say(tree.show(time.monotonic()))
                is_found = False
            elif not tree.is_whole:
                tree.complete()
            else:
                is_found = True
                tree.look_elsewhere()
                tree.index()
        except Exception:  # The edge of the thread: the next change is another chance.
            logger.exception("what was saved could not be shown")


def _say(shown: Shown) -> None:
    if shown.problem:
        told = f"Not shown: {shown.problem}"
    else:
        told = f"Shown after {shown.seconds:.2f} s: {shown.errors} errors, {shown.warnings} warnings."
    print(told, file=sys.stderr, flush=True)
