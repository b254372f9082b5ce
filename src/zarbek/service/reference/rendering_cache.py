"""Long texts as HTML, rendered once for every process and thread of the portal."""

from __future__ import annotations

import fcntl
import logging
import pickle
import zlib
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import TypeVar

from django.conf import settings
from django.core.cache import caches

from zarbek import __version__
from zarbek.core.writing.html import SafeHtml, sanitise

T = TypeVar("T")
_log = logging.getLogger(__name__)
#: What reading and writing may end in: no folder, no space, a file that a lost machine left half.
_UNKEPT = (OSError, EOFError, zlib.error, pickle.UnpicklingError)


def rendered_once(
    digest: str, make: Callable[[], SafeHtml], again: Callable[[str], SafeHtml] = sanitise
) -> SafeHtml:  # fmt: skip
    """The text of that digest, made at its first use; who asks meanwhile waits for the first. again: the sanitiser.

    What was kept passes the sanitiser again, so that a folder is never what makes HTML safe.
    Raises what make raises, which is not kept.
    """
    made: list[SafeHtml] = []

    def text() -> str:
        made.append(make())
        return str(made[0])

    kept = kept_once(digest, text)
    return made[0] if made else again(kept)


def kept_once(digest: str, make: Callable[[], T]) -> T:
    """What was made at the first use of a digest, as it was kept. With a folder that cannot be written (a full disk) it
    is made each time, and the log tells it. Raises what make raises, which is not kept."""
    digest = f"{digest}-{__version__}"
    with _held(digest[:2]):
        try:
            kept = caches["renderings"].get(digest)
        except _UNKEPT as error:
            kept = _told(error)
        if kept is not None:
            return kept
        made = make()
        try:
            caches["renderings"].set(digest, made)
        except OSError as error:
            _told(error)
        return made


@contextmanager
def _held(part: str) -> Iterator[None]:
    """One of 256 locks; the system gives it back when its process ends."""
    folder = Path(settings.RENDERINGS)
    try:
        folder.mkdir(parents=True, exist_ok=True)
        lock = (folder / f"{part}.lock").open("w")
    except OSError as error:
        _told(error)
        yield
        return
    with lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        yield


def _told(error: Exception) -> None:
    _log.warning("Renderings cannot be kept in %s: %s", settings.RENDERINGS, error)
