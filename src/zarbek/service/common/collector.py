"""How often the collector of cycles looks at all that a process keeps."""

from __future__ import annotations

import gc
from collections.abc import Iterator
from contextlib import contextmanager

#: What a process remembers of releases is large and has no cycles: looking through all of it takes 0.1 s and more,
#: in which a reader waits or a publish stands still.
_THRESHOLDS = (50_000, 20, 50)


def collect_rarely() -> None:
    """Leave out what is there when a process begins, and look at the rest seldom."""
    gc.freeze()
    gc.set_threshold(*_THRESHOLDS)


@contextmanager
def collecting_later() -> Iterator[None]:
    """While somebody waits for what this makes, nothing is looked through."""
    gc.disable()
    try:
        yield
    finally:
        gc.enable()


def collect_now() -> None:
    """Look through all, and from then on leave out what is there."""
    gc.unfreeze()
    gc.collect()
    gc.freeze()
