"""Keeping the search index in step. It is derived: ``reindex`` builds it from the database."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from zarbek.core.editions.visibility import audience_of
from zarbek.core.findings.surroundings import texts_of
from zarbek.core.searching.interfaces import names_of
from zarbek.core.searching.port import Document
from zarbek.core.writing.plaintext import plain_text
from zarbek.service.catalog.models import Release
from zarbek.service.reference.queries import get_manifest, iter_entries, list_page_refs, read_page, read_symbols
from zarbek.service.search.engine import get_index


def index_release(release: Release, *, progress: Callable[[int, int], None]) -> int:
    """Index what readers of a release may find; how many documents."""
    return get_index().replace(release.pk, _documents(release, progress))


def _documents(release: Release, progress: Callable[[int, int], None]) -> Iterator[Document]:
    slug = release.project.slug
    total = release.counts.get("symbols", 0)
    audience = audience_of(get_manifest(release.pk).options)
    shown = (e for e in iter_entries(release.pk) if audience.sees(e.symbol))
    for done, (entry, symbol) in enumerate(read_symbols(shown), start=1):
        summary = plain_text(symbol.doc.summary) if symbol.doc else ""
        text = " ".join(texts_of(symbol.doc)) if symbol.doc else ""
        deprecated = entry.symbol.deprecated is not None
        also, addresses = names_of(symbol)
        yield Document(
            release.pk, slug, symbol.kind, symbol.path, symbol.name, summary, text, deprecated, symbol.language, also,
            addresses,
        )  # fmt: skip
        progress(min(done, total), total)
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        yield Document(release.pk, slug, "guide", page.path, page.title, page.summary, page.text)
