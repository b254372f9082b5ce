"""Keeping the search index in step. It is derived: it is built from the database when it is lost."""

from __future__ import annotations

import logging
from collections.abc import Callable, Iterable, Iterator

from zarbek.core.editions.visibility import audience_of
from zarbek.core.findings.mention_context import texts_of
from zarbek.core.searching.engine_port import Document
from zarbek.core.searching.interfaces import names_of
from zarbek.core.searching.other_names import OtherNames
from zarbek.core.writing.plain_text import plain_text
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import (
    get_aliases,
    get_contents,
    get_manifest,
    iter_entries,
    list_page_refs,
    read_page,
    read_symbols,
)
from zarbek.service.search.engine import IndexUnavailable, get_index

logger = logging.getLogger(__name__)


def index_release(release: Release, *, progress: Callable[[int, int], None]) -> int:
    """Index what readers of a release may find; how many documents. Raises IndexUnavailable."""
    return get_index().replace(release.pk, _documents(release, progress))


def rebuild_index() -> int:
    """Build the index anew of every live release, from any state; how many documents."""
    releases = Release.objects.filter(is_live=True).select_related("project").order_by("pk")
    return get_index().rebuild(
        (release.pk, _documents(release, silent)) for release in releases.iterator(chunk_size=20)
    )


def list_missing() -> list[int] | None:
    """Live releases that the index has not got; None where there is no index that could be read."""
    live = list(Release.objects.filter(is_live=True).values_list("pk", flat=True))
    try:
        known = get_index().release_ids(live)
    except IndexUnavailable as error:
        logger.info("there is no search index: %s", error)
        return None
    return [pk for pk in live if pk not in known]


def complete_index() -> None:
    """Build the index where it is lost, damaged or not there yet; index what a publish could not."""
    missing = list_missing()
    if missing is None:
        rebuild_index()
        return
    for release in Release.objects.filter(pk__in=missing, is_live=True).select_related("project"):
        index_release(release, progress=silent)


def forget_releases(releases: Iterable[int], **_: object) -> None:
    """What was removed is found no more."""
    try:
        get_index().remove(releases)
    except IndexUnavailable as error:  # Nobody finds anything now; the new one will not have it.
        logger.warning("the search index could not be written: %s", error)


def silent(_done: int, _total: int) -> None:
    """Progress that nobody watches."""


def _documents(release: Release, progress: Callable[[int, int], None]) -> Iterator[Document]:
    slug = release.project.slug
    total = release.counts.get("symbols", 0)
    audience = audience_of(get_manifest(release.pk).options)
    others = OtherNames(get_aliases(get_contents(release.pk).aliases).values())
    shown = (e for e in iter_entries(release.pk) if audience.sees(e.symbol))
    for done, (entry, symbol) in enumerate(read_symbols(shown), start=1):
        summary = plain_text(symbol.doc.summary) if symbol.doc else ""
        text = " ".join(texts_of(symbol.doc)) if symbol.doc else ""
        deprecated = entry.symbol.deprecated is not None
        also, addresses = names_of(symbol)
        yield Document(
            release.pk, slug, symbol.kind, symbol.path, symbol.name, summary, text, deprecated, symbol.language,
            (*also, *others.of(symbol.path)), addresses,
        )  # fmt: skip
        progress(min(done, total), total)
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        yield Document(release.pk, slug, "guide", page.path, page.title, page.summary, page.text)
