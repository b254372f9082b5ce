"""Which names in a file's code lead where: what its declarations link to, what it declares, and what it imports."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from functools import cached_property
from typing import Any
from urllib.parse import quote

from pygments.token import Comment, String

from zarbek.core.linking.language_profile import family_of
from zarbek.core.linking.link import Link
from zarbek.core.linking.targets import TYPE_KINDS, beginnings
from zarbek.core.model.bundle import Scope
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.code_tokens import CodeLink, spans_of
from zarbek.core.writing.shown import Shown
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import find_release
from zarbek.service.content.queries import find_shown, get_manifest
from zarbek.service.links.resolution_context import DatabaseResolutionContext
from zarbek.service.reference.linked_texts import href_of

#: Of one file: so many different names are looked for.
MAX_NAMES = 400
_CHAIN = re.compile(r"(?<![\w$.:])[A-Za-z_$][\w$]*(?:(?:\.|::)[A-Za-z_$][\w$]*)*")
_OWN = ("self", "cls", "this", "Self")


class CodeNames:
    """The names of one file. symbols: those of the file that readers see, with the links of their mentions."""

    def __init__(
        self, release: Release, language: str, scope: Scope | None, symbols: Sequence[tuple[Symbol, list[Link]]]
    ) -> None:
        self._release, self._scope, self._symbols = release, scope, symbols
        self._family = family_of(language)
        self._known: dict[str, Shown | None] = {}
        self._members = {(s.parent, s.name): s for s, _ in reversed(symbols)}
        self._types = [s for s, _ in symbols if s.kind in TYPE_KINDS]

    def links_in(self, text: str, lexer: Any) -> list[CodeLink]:
        """Each name that leads somewhere, where it stands; of two at one place the first."""
        lines = text.split("\n")
        begins = [0]
        for line in lines:
            begins.append(begins[-1] + len(line) + 1)
        found: dict[int, CodeLink] = {}
        for link in (*self._declared(lines, begins), *self._mentioned(lines, begins), *self._used(text, lexer, begins)):
            found.setdefault(link.start, link)
        return sorted(found.values())

    def _declared(self, lines: list[str], begins: list[int]) -> Iterator[CodeLink]:
        for symbol, _ in self._symbols:
            word = re.compile(rf"(?<![\w$]){re.escape(symbol.name)}(?![\w$])") if symbol.name.isidentifier() else None
            for row in range(symbol.line - 1, min(symbol.line + 4, symbol.end_line, len(lines))) if word else ():
                at = word.search(lines[row]) if word is not None else None
                if at is not None:
                    yield CodeLink(begins[row] + at.start(), begins[row] + at.end(), self._own(symbol.path))
                    break

    def _own(self, path: str) -> Shown:
        place = f"{quote(self._release.project.slug)}/{quote(self._release.version)}"
        return Shown(f"/ref/{place}/{quote(path)}", path)

    def _mentioned(self, lines: list[str], begins: list[int]) -> Iterator[CodeLink]:
        for symbol, links in self._symbols:
            for mention, link in zip(symbol.mentions, links, strict=False):
                row, at = mention.line - 1, mention.column - 1
                href = href_of(link) if 0 <= row < len(lines) and at >= 0 else ""
                if href and lines[row][at : at + len(mention.text)] == mention.text:
                    title = link.path if link.kind == "symbol" else ""
                    yield CodeLink(begins[row] + at, begins[row] + at + len(mention.text), Shown(href, title))

    def _used(self, text: str, lexer: Any, begins: list[int]) -> Iterator[CodeLink]:
        row = 0
        for found in _CHAIN.finditer(_without_words(text, lexer)):
            while begins[row + 1] <= found.start():
                row += 1
            size, shown = self._longest(found[0], row + 1)
            if shown is not None:
                yield CodeLink(found.start(), found.start() + size, shown)

    def _longest(self, chain: str, line: int) -> tuple[int, Shown | None]:
        """The longest beginning of a chain of names that is known, and where it leads."""
        parts = re.split(r"\.|::", chain)
        if parts[0] in _OWN:
            owner = self._type_at(line)
            member = self._members.get((owner.path, parts[1])) if owner is not None and len(parts) > 1 else None
            size = len(parts[0]) + len(parts[1]) + (2 if "::" in chain else 1) if len(parts) > 1 else 0
            return size, self._own(member.path) if member is not None else None
        for count in range(len(parts), 0, -1):
            shown = self._lookup(parts[:count])
            if shown is not None:
                piece = chain
                for _ in range(len(parts) - count):
                    piece = re.split(r"(?:\.|::)(?=[^.:]*$)", piece)[0]
                return len(piece), shown
        return 0, None

    def _type_at(self, line: int) -> Symbol | None:
        around = [t for t in self._types if t.line <= line <= t.end_line]
        return max(around, key=lambda t: t.line, default=None)

    def _lookup(self, parts: list[str]) -> Shown | None:
        key = ".".join(parts)
        if key not in self._known:
            self._known[key] = self._find(parts) if len(self._known) < MAX_NAMES else None
        return self._known[key]

    def _find(self, parts: list[str]) -> Shown | None:
        scope = self._scope
        if scope is None:
            return None
        imported = scope.imports.get(parts[0])
        if imported is not None:
            return self._at(".".join([imported, *parts[1:]]))
        member = self._members.get((scope.module, parts[0]))
        if member is None:
            return None
        return self._own(member.path) if len(parts) == 1 else self._at(".".join([key_of(member.path), *parts[1:]]))

    def _at(self, name: str) -> Shown | None:
        """Where a qualified name leads: in the release, or in the one that is meant of the project that owns it."""
        for spelt in (name, name.replace(".", "::")):
            entry = find_shown(self._release.pk, spelt)
            if entry is not None:
                return self._own(entry.symbol.path)
        owner = next((o for n in beginnings(name) if (o := self._portal.owner_of(n, self._family))), None)
        project = self._portal.projects.get(owner) if owner and owner != self._release.project.slug else None
        other = find_release(project, self._release.choices.get(project.slug, "")) if project is not None else None
        for spelt in (name, name.replace(".", "::")) if other is not None else ():
            entry = find_shown(other.pk, spelt) if other is not None else None
            if entry is not None and other is not None:
                link = Link("linked", "symbol", other.project.slug, other.version, entry.symbol.path)
                return Shown(href_of(link), entry.symbol.path)
        return None

    @cached_property
    def _portal(self) -> DatabaseResolutionContext:
        return DatabaseResolutionContext(get_manifest(self._release.pk))


def _without_words(text: str, lexer: Any) -> str:
    """Code with blanks in the place of comments and texts."""
    if lexer is None:
        return ""
    pieces = []
    for kind, piece in spans_of(text, lexer):
        is_words = kind in Comment or kind in String
        pieces.append(re.sub(r"[^\n]", " ", piece) if is_words else piece)
    return "".join(pieces)
