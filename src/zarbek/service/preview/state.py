"""What a preview shows now, for pages that wait for the next."""

from __future__ import annotations

import threading

import msgspec


class Shown(msgspec.Struct, frozen=True):
    """revision: counts what was shown, from 1; 0 before anything was. run: whose report it is. errors, warnings: new or
    not, in the working tree. problem: why what was saved last is not shown. seconds: from the change to the page."""

    project: str
    revision: int = 0
    version: str = ""
    run: int = 0
    errors: int = 0
    warnings: int = 0
    problem: str = ""
    seconds: float = 0.0


class State:
    """One writer, many readers that wait."""

    def __init__(self) -> None:
        self._changed = threading.Condition()
        self._shown = Shown("")

    def set(self, shown: Shown) -> None:
        """Show something else; who waits is told."""
        with self._changed:
            self._shown = shown
            self._changed.notify_all()

    def get(self) -> Shown:
        """What is shown now."""
        return self._shown

    def wait(self, after: int, timeout_s: float) -> Shown:
        """What is shown once that is later than a revision, or after a time."""
        with self._changed:
            self._changed.wait_for(lambda: self._shown.revision > after, timeout_s)
            return self._shown


STATE = State()
