"""How often somebody may do something that is dear: counted for the whole portal, in the database."""

from __future__ import annotations

import threading
from hashlib import sha256

from django.utils import timezone
from rest_framework.request import Request

from zarbek.service.accounts.actions.tallies import add_to_tally
from zarbek.service.common.problems import TooMany


def client_of(request: Request) -> str:
    """The address that asks. What a proxy says of it counts where the proxy is configured: the server
    has put it in this place then, and nobody else can."""
    return str(request.META.get("REMOTE_ADDR", ""))


def count_use(what: str, who: str, *, most: int, span_s: float) -> None:
    """Count one use, for all web processes together. Raises TooMany beyond so many in a span of time."""
    count, until = add_to_tally(sha256(f"{what}\0{who}".encode(errors="replace")).hexdigest(), span_s)
    if count > most:
        wait_s = max(int((until - timezone.now()).total_seconds()), 1)
        raise TooMany(f"At most {most} times in {span_s:g} s. Try again in {wait_s} s.", retry_after=wait_s)


class Few:
    """So many at once in a process of what holds a thread for long; who else asks is told TooMany, after
    so many seconds, so that readers have threads left. what: of whom there are too many, and what they do."""

    def __init__(self, most: int, what: str, wait_s: float = 0.0) -> None:
        self._room, self._what, self._wait_s = threading.BoundedSemaphore(most), what, wait_s

    def __enter__(self) -> None:
        if not self._room.acquire(timeout=self._wait_s):
            raise TooMany(f"Too many {self._what} at this moment. Try again in a few seconds.", retry_after=5)

    def __exit__(self, *_: object) -> None:
        self._room.release()
