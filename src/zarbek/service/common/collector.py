"""How often the collector of cycles looks at all that a process keeps."""

from __future__ import annotations

import gc

#: What a process remembers of releases is large and has no cycles: looking through all of it takes 0.1 s and more,
#: in which a reader waits or a publish stands still.
_THRESHOLDS = (50_000, 20, 50)


def collect_rarely() -> None:
    """Leave out what is there when a process begins, and look at the rest seldom."""
    gc.freeze()
    gc.set_threshold(*_THRESHOLDS)
