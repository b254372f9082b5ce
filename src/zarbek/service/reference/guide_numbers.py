"""The numbers of a release's guides."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from zarbek.core.editions.numbering import PageNumbers, call_places, number_pages
from zarbek.service.catalog.models import Release
from zarbek.service.content.editions import edition_name_of
from zarbek.service.content.queries import get_contents, get_manifest, list_page_refs


class GuideNumbers(NamedTuple):
    """pages: by path. called: what places are called to which texts refer by label, by path and anchor."""

    pages: dict[str, PageNumbers]
    called: dict[tuple[str, str], str]


def numbers_of(release: Release) -> GuideNumbers:
    """The numbers of a release's guides, counted anew where its contents have changed."""
    return _numbers(release.pk, get_contents(release.pk).pages, edition_name_of(get_manifest(release.pk)))


@lru_cache(maxsize=256)
def _numbers(release_id: int, block: int, edition: str) -> GuideNumbers:
    """Of the guides of one block, which never changes, as far as an edition has them."""
    pages = [ref.entry for ref in list_page_refs(release_id)]
    numbers = number_pages(pages)
    return GuideNumbers(numbers, call_places(pages, numbers))
