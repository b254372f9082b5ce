"""What search knows of a release."""

from __future__ import annotations

from collections.abc import Iterator

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


def documents_of(release: Release) -> Iterator[Document]:
    """What readers of a release may find."""
    slug = release.project.slug
    audience = audience_of(get_manifest(release.pk).options)
    others = OtherNames(get_aliases(get_contents(release.pk).aliases).values())
    shown = (e for e in iter_entries(release.pk) if audience.sees(e.symbol))
    for entry, symbol in read_symbols(shown):
        summary = plain_text(symbol.doc.summary) if symbol.doc else ""
        text = " ".join(texts_of(symbol.doc)) if symbol.doc else ""
        deprecated = entry.symbol.deprecated is not None
        also, addresses = names_of(symbol)
        yield Document(
            release.pk, slug, symbol.kind, symbol.path, symbol.name, summary, text, deprecated, symbol.language,
            (*also, *others.of(symbol.path)), addresses,
        )  # fmt: skip
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        yield Document(release.pk, slug, "guide", page.path, page.title, page.summary, page.text)
