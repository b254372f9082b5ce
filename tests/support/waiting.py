"""Waiting for what happens in its own time."""

from __future__ import annotations

import time
from collections.abc import Callable
from typing import TypeVar

T = TypeVar("T")


def until(check: Callable[[], T], within_s: float = 30.0) -> T:
    """What a check says once that is true. Fails the test with what it said last, where it never is."""
    end = time.monotonic() + within_s
    while not (found := check()):
        if time.monotonic() > end:
            raise AssertionError(f"it did not become so within {within_s:g} s; the last answer was {found!r}")
        time.sleep(0.1)
    return found
