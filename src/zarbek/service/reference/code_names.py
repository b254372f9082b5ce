"""Which names in a file's code lead where: what its declarations link to, what it declares, and what it imports."""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterator, Mapping, Sequence
from functools import cached_property
from itertools import accumulate

from pygments.token import Comment, String, Token

from zarbek.core.linking.language_profile import family_of
from zarbek.core.linking.link import Link
from zarbek.core.linking.targets import TYPE_KINDS, beginnings
from zarbek.core.model.bundle import Scope
from zarbek.core.model.naming import key_of
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.annotated_source import Tokens
from zarbek.core.writing.code_tokens import CodeLink
from zarbek.core.writing.shown import Shown
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import find_release
from zarbek.service.content.queries import find_shown, get_manifest
from zarbek.service.links.resolution_context import DatabaseResolutionContext
from zarbek.service.reference.linked_texts import href_of

#: Of one file: so many different names are looked for.
MAX_NAMES = 400
_CHAIN = re.compile(r"(?<![\w$.:])[A-Za-z_$][\w$]*(?:(?:\.|::)[A-Za-z_$][\w$]*)*")
_SIGN = re.compile(r"[^\n]")
_OWN = ("self", "cls", "this", "Self")


class CodeNames:
    """The names in some lines of a file. symbols: those that begin there, with the links of their mentions. members:
    (path of what it lies in, name) to the path of each that the file has."""

    def __init__(
        self, release: Release, language: str, scope: Scope | None, symbols: Sequence[tuple[Symbol, list[Link]]],
        members: Mapping[tuple[str, str], str],
    ) -> None:  # fmt: skip
        self._release, self._scope, self._symbols = release, scope, symbols
        self._family = family_of(language)
        self._known: dict[str, Shown | None] = {}
        self._members = members
        self._types = [s for s, _ in symbols if s.kind in TYPE_KINDS]

    def links_in(self, tokens: Tokens, first: int = 1) -> list[CodeLink]:
        """Each name that leads somewhere, where it stands; of two at one place the first. first: the line of the file
        at which the tokens begin, from 1."""
        window = _Window("".join(text for _, text in tokens).split("\n"), first)
        found: dict[int, CodeLink] = {}
        for link in (*self._declared(window), *self._mentioned(window), *self._used(tokens, window)):
            found.setdefault(link.start, link)
        return sorted(found.values())

    def _declared(self, window: _Window) -> Iterator[CodeLink]:
        for symbol, _ in self._symbols:
            for number in range(symbol.line, min(symbol.line + 5, symbol.end_line + 1)):
                at = _find_word(symbol.name, window.line(number))
                if at >= 0:
                    yield window.link(number, at, symbol.name, self._own(symbol.path))
                    break

    def _own(self, path: str) -> Shown:
        return _shown(self._release, path)

    def _mentioned(self, window: _Window) -> Iterator[CodeLink]:
        for symbol, links in self._symbols:
            for mention, link in zip(symbol.mentions, links, strict=False):
                at = mention.column - 1
                is_here = at >= 0 and window.line(mention.line)[at : at + len(mention.text)] == mention.text
                if is_here and (href := href_of(link)):
                    shown = Shown(href, link.path if link.kind == "symbol" else "")
                    yield window.link(mention.line, at, mention.text, shown)

    def _used(self, tokens: Tokens, window: _Window) -> Iterator[CodeLink]:
        for found in _CHAIN.finditer(_without_words(tokens)):
            size, shown = self._longest(found[0], window.number_at(found.start()))
            if shown is not None:
                yield CodeLink(found.start(), found.start() + size, shown)

    def _longest(self, chain: str, line: int) -> tuple[int, Shown | None]:
        """The longest beginning of a chain of names that is known, and where it leads."""
        parts = re.split(r"\.|::", chain)
        if parts[0] in _OWN:
            owner = self._type_at(line)
            member = self._members.get((owner.path, parts[1])) if owner is not None and len(parts) > 1 else None
            size = len(parts[0]) + len(parts[1]) + (2 if "::" in chain else 1) if len(parts) > 1 else 0
            return size, self._own(member) if member is not None else None
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
        return self._own(member) if len(parts) == 1 else self._at(".".join([key_of(member), *parts[1:]]))

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
                return _shown(other, entry.symbol.path)
        return None

    @cached_property
    def _portal(self) -> DatabaseResolutionContext:
        return DatabaseResolutionContext(get_manifest(self._release.pk))


def _shown(release: Release, path: str) -> Shown:
    return Shown(href_of(Link("linked", "symbol", release.project.slug, release.version, path)), path)


class _Window:
    """Some lines of a file. first: the number of the first, from 1."""

    def __init__(self, lines: list[str], first: int) -> None:
        self._lines, self._first = lines, first
        self._begins = list(accumulate((len(line) + 1 for line in lines), initial=0))

    def line(self, number: int) -> str:
        """The line of a number; empty for one that is not here."""
        at = number - self._first
        return self._lines[at] if 0 <= at < len(self._lines) else ""

    def number_at(self, offset: int) -> int:
        """The number of the line in which a character stands."""
        return bisect_right(self._begins, offset) - 1 + self._first

    def link(self, number: int, column: int, text: str, shown: Shown) -> CodeLink:
        """A link at a place. column: from 0."""
        start = self._begins[number - self._first] + column
        return CodeLink(start, start + len(text), shown)


def _find_word(name: str, line: str) -> int:
    """Where a name stands by itself in a line; -1 where it does not."""
    at = line.find(name)
    while at >= 0:
        around = line[max(at - 1, 0) : at] + line[at + len(name) : at + len(name) + 1]
        if not any(sign.isalnum() or sign in "_$" for sign in around):
            return at
        at = line.find(name, at + 1)
    return -1


def _without_words(tokens: Tokens) -> str:
    """Code with blanks in the place of comments and texts."""
    if len(tokens) == 1 and tokens[0][0] is Token:
        return ""
    return "".join(
        _SIGN.sub(" ", piece) if kind in Comment or kind in String else piece for kind, piece in tokens
    )  # fmt: skip
