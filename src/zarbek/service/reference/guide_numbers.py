"""The numbers of a release's guides."""

from __future__ import annotations

from functools import lru_cache
from typing import NamedTuple

from zarbek.core.editions.numbering import PageNumbers, call_places, number_pages
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import get_contents, get_page_refs


class GuideNumbers(NamedTuple):
    """pages: by path. called: what places are called to which texts refer by label, by path and anchor."""

    pages: dict[str, PageNumbers]
    called: dict[tuple[str, str], str]


def numbers_of(release: Release) -> GuideNumbers:
    """The numbers of a release's guides, counted anew where its contents have changed."""
    return _numbers(get_contents(release.pk).pages)


@lru_cache(maxsize=256)
def _numbers(block: int) -> GuideNumbers:
    """Of the guides of one block, which never changes."""
    pages = [ref.entry for ref in get_page_refs(block)]
    numbers = number_pages(pages)
    return GuideNumbers(numbers, call_places(pages, numbers))
