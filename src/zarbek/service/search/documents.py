"""What search knows of a release."""

from __future__ import annotations

from collections.abc import Iterator

from zarbek.core.editions.visibility import audience_of
from zarbek.core.findings.mention_context import texts_of
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.example import shown_code
from zarbek.core.model.page import Page
from zarbek.core.searching.engine_port import MAX_TEXT, Document
from zarbek.core.searching.interfaces import names_of
from zarbek.core.searching.marks import marks_of
from zarbek.core.searching.other_names import OtherNames
from zarbek.core.writing.plain_text import plain_text
from zarbek.service.catalog.models import Release
from zarbek.service.content.page_sections import sections_of
from zarbek.service.content.queries import (
    get_aliases,
    get_contents,
    get_manifest,
    iter_entries,
    list_page_refs,
    read_page,
    read_symbols,
)

#: So much of a section is shown of it.
_BEGIN = 160
#: A page that sends its readers elsewhere, and says no more than that.
_FEW = 500


def documents_of(release: Release) -> Iterator[Document]:
    """What readers of a release may find."""
    slug = release.project.slug
    audience = audience_of(get_manifest(release.pk).options)
    others = OtherNames(get_aliases(get_contents(release.pk).aliases).values())
    shown = (e for e in iter_entries(release.pk) if audience.sees(e.symbol))
    documented: dict[str, set[str]] = {}
    for entry, symbol in read_symbols(shown):
        if symbol.place is not None:
            documented.setdefault(symbol.place.file, set()).add(symbol.place.anchor)
        summary = plain_text(symbol.doc.summary) if symbol.doc else ""
        text = " ".join(texts_of(symbol.doc)) if symbol.doc else ""
        if symbol.example is not None:
            summary = f"{symbol.example.title}. {summary}".strip()
            text = f"{text} {shown_code(symbol.example)}"
        deprecated = entry.symbol.deprecated is not None
        also, addresses = names_of(symbol)
        yield Document(
            release.pk, slug, symbol.kind, symbol.path, symbol.name, summary, text, deprecated, symbol.language,
            (*also, *others.of(symbol.path)), addresses, marks=marks_of(symbol),
        )  # fmt: skip
    facts_of = get_manifest(release.pk).tree_of
    for ref in list_page_refs(release.pk):
        if "search" in ref.entry.hidden:
            continue
        page = read_page(ref)
        yield from _of_page(page, release, facts_of(page.file), documented.get(page.file, set()))


def _of_page(page: Page, release: Release, facts: TreeFacts, documented: set[str]) -> Iterator[Document]:
    """A page as a whole, and each part of it that has a place, and is not found as the element that it documents."""
    sections = sections_of(page, facts)
    whole = " ".join(section.text for section in sections) if page.form == "html" else page.text
    if page.moved_to and len(whole) < _FEW:
        return  # It says nothing but where it is now.
    slug = release.project.slug
    yield Document(release.pk, slug, "guide", page.path, page.title, page.summary, whole[:MAX_TEXT])
    for section in sections:
        is_found = section.anchor in documented or section.title == page.title
        if section.anchor and section.title and not is_found:
            begin = f"{page.title}: {section.text}"
            yield Document(release.pk, slug, "guide", page.path, section.title, begin[:_BEGIN],
                           section.text[:MAX_TEXT], anchor=section.anchor)  # fmt: skip
