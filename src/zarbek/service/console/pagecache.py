"""Pages kept in memory until something changes what they say."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable
from threading import Lock

import msgspec

from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.conditional import tag_of
from zarbek.service.publishing.models import Generation

MAX_PAGES = 2000
Key = tuple[str, str, str, str, int]
_pages: OrderedDict[Key, tuple[bytes, str]] = OrderedDict()
_making: dict[Key, Lock] = {}
_lock = Lock()


def current_generation() -> int:
    """Raised by whatever changes what pages say: the end of a run, a waiver, a check of addresses."""
    return Generation.objects.values_list("number", flat=True).first() or 0


def cached_page(
    kind: str, slug: str, version: str, path: str, make: Callable[[Release, str], object]
) -> tuple[bytes, str]:
    """The page as JSON with its entity tag, made at first use and after each run. What make raises is not kept.

    Cost of a page that is kept: one query.
    """
    key = (kind, slug, version, path, current_generation())
    with _lock:
        found = _pages.get(key)
        if found is not None:
            _pages.move_to_end(key)
            return found
        making = _making.setdefault(key, Lock())
    try:
        with making:  # Readers of one page wait for its first maker.
            with _lock:
                if (found := _pages.get(key)) is not None:
                    return found
            body = msgspec.json.encode(make(get_release(slug, version), path), enc_hook=str)
            made = (body, tag_of(body))
            with _lock:
                _pages[key] = made
                while len(_pages) > MAX_PAGES:
                    _pages.popitem(last=False)
            return made
    finally:
        with _lock:
            _making.pop(key, None)
