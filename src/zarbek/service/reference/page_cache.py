"""Pages kept in memory until something changes what they say."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.compute_once import ComputeOnce
from zarbek.service.common.conditional import tag_of
from zarbek.service.publishing.models import CacheEpoch

_MOST_BYTES = 128 * 2**20
Key = tuple[str, str, str, str, int, frozenset[str]]
_pages: ComputeOnce[Key, tuple[bytes, str]] = ComputeOnce(_MOST_BYTES, weigh=lambda page: len(page[0]))


def current_generation() -> int:
    """Raised by whatever changes what pages say: the end of a run, a waiver, a check of addresses."""
    return CacheEpoch.objects.values_list("number", flat=True).first() or 0


def cached_page(
    kind: str, slug: str, version: str, path: str, make: Callable[[Release, str], object]
) -> tuple[bytes, str]:
    """The page as JSON with its entity tag, made at first use and after each run, for all from whom the same projects
    are kept. What make raises is not kept.

    Cost of a page that is kept: two queries.
    """
    key = (kind, slug, version, path, current_generation(), hidden_projects().slugs)

    def body() -> tuple[bytes, str]:
        made = msgspec.json.encode(make(get_release(slug, version), path), enc_hook=str)
        return made, tag_of(made)

    return _pages.get(key, body)
