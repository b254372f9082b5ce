"""The page of a file: the prose of its comments beside its code."""

from __future__ import annotations

from collections.abc import Iterator
from html import escape
from urllib.parse import quote

from zarbek.core.linking.index import MODULE_KINDS
from zarbek.core.linking.link import Link
from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.annotated_source import (
    Row,
    annotate,
    end_of_window,
    lexer_for,
    part_html,
    tokens_of,
)
from zarbek.core.writing.html import NO_HTML, SafeHtml, joined_html, sanitise
from zarbek.service.catalog.models import Release
from zarbek.service.common.problems import NotFound
from zarbek.service.content.block_layout import SourceRef
from zarbek.service.content.queries import (
    find_source,
    get_contents,
    get_module_block,
    list_sources,
    read_source,
    read_symbols,
)  # fmt: skip
from zarbek.service.links.queries import cached_link_document, get_link_map, with_versions
from zarbek.service.reference.code_names import CodeNames
from zarbek.service.reference.linked_texts import Texts
from zarbek.service.reference.navigation import audience_of_release, href_of_symbol, navigation_of
from zarbek.service.reference.page_data import Crumb
from zarbek.service.reference.source_page_data import SourceListed, SourcePage, SourcePart, SourceRow
from zarbek.service.reference.text_findings import list_standing

#: So many declarations of a file are told beside it.
MAX_SYMBOLS = 2000


def list_source_files(release: Release) -> list[SourceListed]:
    """The files of a release that readers may look into."""
    return [
        SourceListed(ref.entry.file, ref.entry.language, ref.entry.lines, href_of_source(release, ref.entry.file))
        for ref in list_sources(release.pk)
    ]


def href_of_source(release: Release, file: str, line: int = 0) -> str:
    """The console's address of a file, or of a line of it."""
    place = f"/source/{quote(release.project.slug)}/{quote(release.version)}/{quote(file)}"
    return f"{place}#L{line}" if line else place


def find_source_page(release: Release, file: str, line: int) -> str:
    """The address of a line of a file; empty where readers may not look into it."""
    return href_of_source(release, file, line) if find_source(release.pk, file) is not None else ""


def get_source_page(release: Release, file: str, begin: int = 1) -> SourcePage:
    """A file from a line on, as far as is shown at once. Raises NotFound for a file that readers may not look into."""
    ref = find_source(release.pk, file)
    if ref is None:
        raise NotFound(f"{release.project.slug} {release.version} shows no file {file}.")
    declared = _Declared(release, ref)
    lines = read_source(ref).split("\n")
    end = end_of_window(lines, begin, declared.outermost())
    tokens = tokens_of("\n".join(lines[begin - 1 : end - 1]), lexer_for(file, ref.entry.language))
    symbols = list(declared.within(begin, end))
    by_line = _by_line([symbol for symbol, _ in symbols])
    names = CodeNames(release, ref.entry.language, _scope_of(release, ref), symbols, declared.paths)
    told = {line: any(_is_told(s) for s in found) for line, found in by_line.items()}
    texts = {s.path: Texts(s.mentions, found, []) for s, found in symbols}
    rows = annotate(tokens, told, names.links_in(tokens, begin), begin)
    return SourcePage(
        navigation_of(release, ref.entry.units[0] if ref.entry.units else "", ""), file, ref.entry.language,
        ref.entry.lines, [_row_view(release, row, by_line, texts) for row in rows], _findings(release, file, by_line),
        href_of_source(release, file), end if end <= len(lines) else None,
    )  # fmt: skip


class _Declared:
    """What a file declares, as far as readers see it. paths: (path of what it lies in, name) to the path of each."""

    def __init__(self, release: Release, ref: SourceRef) -> None:
        self._release = release
        contents, sees = get_contents(release.pk), audience_of_release(release).sees
        self._rows = [
            (unit, row) for unit in ref.entry.units for row in get_module_block(contents.block_of(unit)).entries
            if row.symbol.file == ref.entry.file and sees(row.symbol)
        ]  # fmt: skip
        self.paths = {(row.symbol.parent, row.symbol.name): row.symbol.path for _, row in reversed(self._rows)}

    def outermost(self) -> list[int]:
        """Lines at which declarations begin that stand in no other, in order."""
        inner = {row.symbol.path for _, row in self._rows if row.symbol.kind not in MODULE_KINDS}
        rows = (row.symbol for _, row in self._rows if row.symbol.path in inner)
        return sorted({entry.line for entry in rows if entry.parent not in inner})

    def within(self, begin: int, end: int) -> Iterator[tuple[Symbol, list[Link]]]:
        """Those that begin in some lines, the end not among them, with the links of their mentions."""
        link_map = get_link_map(self._release)
        here = [(unit, row) for unit, row in self._rows if begin <= row.symbol.line < end][:MAX_SYMBOLS]
        units = {id(row): unit for unit, row in here}
        for row, symbol in read_symbols([row for _, row in here]):
            links = cached_link_document(link_map.modules.get(units[id(row)], 0))
            yield symbol, with_versions(self._release, links.get(symbol.path, []))


def _scope_of(release: Release, ref: SourceRef) -> Scope | None:
    contents = get_contents(release.pk)
    scopes = (s for unit in ref.entry.units for s in get_module_block(contents.block_of(unit)).scopes)
    return next((scope for scope in scopes if scope.file == ref.entry.file), None)


def _by_line(symbols: list[Symbol]) -> dict[int, list[Symbol]]:
    """Line of a declaration to what is declared there: what is told of, or holds others."""
    found: dict[int, list[Symbol]] = {}
    for symbol in symbols:
        if symbol.line > 0 and (_is_told(symbol) or symbol.end_line > symbol.line):
            found.setdefault(symbol.line, []).append(symbol)
    return found


def _is_told(symbol: Symbol) -> bool:
    doc = symbol.doc
    return doc is not None and bool(doc.summary or doc.body)


def _row_view(release: Release, row: Row, by_line: dict[int, list[Symbol]], texts: dict[str, Texts]) -> SourceRow:
    here = [symbol for line in row.starts for symbol in by_line[line]]
    prose = [_prose(s.doc, texts[s.path]) for s in here if s.doc is not None and _is_told(s)]
    if row.words:
        prose.append(_plain(row.words))
    parts = [SourcePart(p.line, len(p.lines), part_html(p), p.is_words and bool(prose)) for p in row.parts]
    end = here[0].end_line if here else 0
    return SourceRow(row.line, parts, joined_html(prose), [_crumb(release, s) for s in here], _depth(row, by_line), end)


def _depth(row: Row, by_line: dict[int, list[Symbol]]) -> int:
    """How many declarations a row stands in."""
    return sum(1 for line, found in by_line.items() for s in found if line < row.line <= s.end_line)


def _crumb(release: Release, symbol: Symbol) -> Crumb:
    return Crumb(symbol.path, symbol.name, href_of_symbol(release, symbol.path), symbol.kind)


def _prose(doc: Doc, texts: Texts) -> SafeHtml:
    """What a declaration's documentation says, in short: the rest is on its page."""
    told = [texts.block(doc.summary), texts.block(doc.body)]
    rows = [
        f"<li><code>{escape(field.name)}</code> {texts.line(field.text)}</li>" for field in doc.parameters if field.text
    ]
    listed = sanitise(f"<ul>{''.join(rows)}</ul>") if rows else NO_HTML
    gives = [texts.block(f"Gives {field.text[:1].lower()}{field.text[1:]}") for field in doc.returns if field.text]
    return joined_html([*told, listed, *gives])


def _plain(words: str) -> SafeHtml:
    """A comment as it stands: it is written in no form that is known."""
    paragraphs = "".join(f"<p>{escape(part)}</p>" for part in words.split("\n\n") if part.strip())
    return sanitise(f'<div class="comment">{paragraphs}</div>')


def _findings(release: Release, file: str, by_line: dict[int, list[Symbol]]) -> list[Finding]:
    """What is wrong in the texts of a file's declarations."""
    subjects = [symbol.path for found in by_line.values() for symbol in found]
    return [finding for finding in list_standing(release, subjects) if finding.file == file]
