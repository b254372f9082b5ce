"""What search knows of a release."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from zarbek.core.editions.visibility import Audience, audience_of, edition_mark
from zarbek.core.findings.mention_context import texts_of
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.example import shown_code
from zarbek.core.model.naming import key_of
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import pattern_of, place_of
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


def _marks_of_page(editions: Mapping[str, Audience], page: Page) -> tuple[str, ...]:
    return tuple(edition_mark(name) for name, audience in editions.items() if audience.has(page.variants))


def documents_of(release: Release) -> Iterator[Document]:
    """What readers of a release may find."""
    slug = release.project.slug
    manifest = get_manifest(release.pk)
    audience = audience_of(manifest.options)
    editions = {name: audience_of(manifest.options, edition) for name, edition in manifest.editions.items()}
    others = OtherNames(get_aliases(get_contents(release.pk).aliases).values())
    shown = (e for e in iter_entries(release.pk) if audience.sees(e.symbol))
    supplements = _Supplements(release, editions)
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
        for said in supplements.of(entry.symbol):
            yield Document(
                release.pk, slug, symbol.kind, symbol.path, symbol.name, summary, f"{text} {said.text}".strip(),
                deprecated, symbol.language, (*also, *said.keywords, *others.of(symbol.path)), addresses,
                marks=(*marks_of(symbol), *said.marks),
            )  # fmt: skip
    yield from supplements.for_others()
    facts_of = manifest.tree_of
    for ref in list_page_refs(release.pk):
        if "search" in ref.entry.hidden:
            continue
        page = read_page(ref)
        marks = _marks_of_page(editions, page)
        for document in _of_page(page, release, facts_of(page.file), documented.get(page.file, set())):
            yield replace(document, marks=marks) if marks else document


@dataclass(frozen=True, slots=True)
class _Said:
    """What supplements say of an element, and the marks of the editions that read just that."""

    keywords: list[str]
    text: str
    marks: tuple[str, ...]


class _Supplements:
    """What the supplements of a release say: of its own elements, by which these are found, and of those of others,
    where the supplement itself is."""

    def __init__(self, release: Release, editions: Mapping[str, Audience]) -> None:
        self._release, self._editions = release, editions
        pages = [read_page(ref) for ref in list_page_refs(release.pk) if ref.entry.supplements]
        self._by_path: dict[str, list[Page]] = {}
        self._patterns: list[tuple[re.Pattern[str], Page]] = []
        self._foreign: dict[str, Page] = {}
        aliases = get_aliases(get_contents(release.pk).aliases) if pages else {}
        others = {key_of(alias.name): alias.path for alias in aliases.values()}
        for page in pages:
            for target in page.supplement.targets if page.supplement is not None else ():
                self._take(page, target, others)

    def _take(self, page: Page, target: str, others: dict[str, str]) -> None:
        slug = self._release.project.slug
        project, _, path = place_of(target.partition("#")[0], slug)
        pattern = pattern_of(path)
        if project != slug:
            self._foreign[page.path] = page
        elif pattern is not None:
            self._patterns.append((pattern, page))
        else:
            self._by_path.setdefault(others.get(key_of(path), path), []).append(page)

    def of(self, element: SymbolEntry) -> list[_Said]:
        """Those for an element of the release: all first, as who reads all of it finds them; then what editions find
        that have not all of these."""
        path = element.path
        pages = [*self._by_path.get(path, ()), *(page for pattern, page in self._patterns if pattern.fullmatch(path))]
        marks: dict[tuple[str, ...], list[str]] = {tuple(page.path for page in pages): []}
        for name, audience in self._editions.items():
            if audience.sees(element):
                read = tuple(page.path for page in pages if audience.has(page.variants))
                marks.setdefault(read, []).append(edition_mark(name))
        return [_said([p for p in pages if p.path in read], tuple(found)) for read, found in marks.items()]

    def for_others(self) -> Iterator[Document]:
        """Those for elements of other projects, under names of their own: who looks for an element means itself."""
        for page in self._foreign.values():
            keywords = page.supplement.keywords if page.supplement is not None else []
            yield Document(
                self._release.pk, self._release.project.slug, "guide", page.path, page.title, page.summary,
                page.text[:MAX_TEXT], also=tuple(keywords), marks=_marks_of_page(self._editions, page),
            )  # fmt: skip


def _said(pages: list[Page], marks: tuple[str, ...]) -> _Said:
    keywords = [k for p in pages if p.supplement for k in p.supplement.keywords]
    return _Said(keywords, " ".join(p.text for p in pages), marks)


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
