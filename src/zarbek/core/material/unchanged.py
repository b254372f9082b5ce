"""What was computed of the files of a folder, for who asks again and again: until a file is written again."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import Generic, TypeVar

from zarbek.core.material.folder import Folder, Stamp

T = TypeVar("T")
#: Clocks of file systems are coarse: of a file that was written so short ago it cannot be told whether it will be again
#: at what is the same time to them.
_YOUNG_NS = 2_000_000_000


class Unchanged(Generic[T]):
    """The answers of one question to files."""

    def __init__(self) -> None:
        self._known: dict[str, tuple[Stamp, str, T]] = {}

    def of(self, folder: Folder, file: str, answer: Callable[[], T], *, besides: str = "") -> T:
        """answer: of the file as it is now; asked for where it was written since, or too short ago to be sure, and
        where nothing can be told of it. besides: what else the answer rests on."""
        stamp, now = folder.stamp(file), time.time_ns()
        known = self._known.get(file)
        if known is not None and known[:2] == (stamp, besides):
            return known[2]
        found = answer()
        if stamp is not None and stamp.changed_ns < now - _YOUNG_NS:
            self._known[file] = stamp, besides, found
        return found
