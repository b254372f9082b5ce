"""Pages kept in memory until something changes what they say."""

from __future__ import annotations

from collections.abc import Callable

import msgspec

from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import get_release
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.compute_once import ComputeOnce
from zarbek.service.common.conditional import tag_of
from zarbek.service.content.editions import edition_key
from zarbek.service.publishing.models import CacheEpoch

_MOST_BYTES = 128 * 2**20
#: Kind, project, version, path, how often its pages and all pages were renewed, what is kept from the asker, and what
#: of editions.
Key = tuple[str, str, str, str, tuple[tuple[str, int], ...], frozenset[str], tuple[str, bool, frozenset[str]]]
_pages: ComputeOnce[Key, tuple[bytes, str]] = ComputeOnce(_MOST_BYTES, weigh=lambda page: len(page[0]))


def current_epochs(slug: str) -> tuple[tuple[str, int], ...]:
    """Raised by whatever changes what pages of a project say: the end of a run of its own or of a project that it
    refers to or that refers to it, a waiver, a check of addresses."""
    return tuple(CacheEpoch.objects.filter(scope__in=("", slug)).order_by("scope").values_list("scope", "number"))


def cached_page(
    kind: str, slug: str, version: str, path: str, make: Callable[[Release, str], object]
) -> tuple[bytes, str]:
    """The page as JSON with its entity tag, made at first use and after what changes it, for all from whom the same
    projects are kept. What make raises is not kept.

    Cost of a page that is kept: two queries.
    """
    key = (kind, slug, version, path, current_epochs(slug), hidden_projects().slugs, edition_key())

    def body() -> tuple[bytes, str]:
        made = msgspec.json.encode(make(get_release(slug, version), path), enc_hook=str)
        return made, tag_of(made)

    return _pages.get(key, body)
