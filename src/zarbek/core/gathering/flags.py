"""Flags of elements and guides, by which editions have them: of patterns, of the source and of supplements."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping

import msgspec

from zarbek.core.gathering.supplement_pages import own_targets
from zarbek.core.model.naming import enclosing_of
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import pattern_of
from zarbek.core.model.symbol import Symbol
from zarbek.core.model.visibility import KEPT_LEVELS, kept_marks

_DECODE = msgspec.json.Decoder(Symbol).decode
_ENCODE = msgspec.json.Encoder().encode


class FlagRules:
    """Which flags a path has. patterns: of each flag, paths of elements or guides in which ``*`` stands for anything;
    what lies in an element has its flags too."""

    def __init__(self, patterns: Mapping[str, Iterable[str]]) -> None:
        self._plain: dict[str, set[str]] = defaultdict(set)
        self._patterns: list[tuple[re.Pattern[str], str]] = []
        self._known: dict[str, frozenset[str]] = {}
        for flag, paths in patterns.items():
            for path in paths:
                self.add(path, [flag])

    def add(self, path: str, flags: Iterable[str]) -> None:
        """Flags that an element has by itself, or those that a pattern means."""
        pattern = pattern_of(path)
        if pattern is None:
            self._plain[path].update(flags)
        else:
            self._patterns += ((pattern, flag) for flag in flags)
        self._known.clear()

    def __bool__(self) -> bool:
        return bool(self._plain or self._patterns)

    def of(self, path: str) -> frozenset[str]:
        """The flags of a path, with those of what it lies in."""
        known = self._known.get(path)
        if known is None:
            above = enclosing_of(path) or path.rpartition("/")[0]
            outer = self.of(above) if above and above != path else frozenset[str]()
            matched = {flag for pattern, flag in self._patterns if pattern.fullmatch(path)}
            known = self._known[path] = outer | self._plain.get(path, frozenset()) | matched
        return known


def flag_supplements(rules: FlagRules, pages: Iterable[Page], slug: str) -> None:
    """What supplements say of elements of their own project."""
    for page in pages:
        if page.supplement is not None and page.supplement.flags:
            for path in own_targets(page.supplement, slug):
                rules.add(path, page.supplement.flags)


def flagged_symbols(lines: list[bytes], rules: FlagRules) -> list[bytes]:
    """Symbols, as lines of JSON, with their flags."""
    for symbol in [_DECODE(line) for line in lines if b'"variants":' in line]:
        rules.add(symbol.path, symbol.variants)
    if not rules:
        return lines
    return [_flagged(line, rules) for line in lines]


def _flagged(line: bytes, rules: FlagRules) -> bytes:
    symbol = _DECODE(line)
    flags = sorted(rules.of(symbol.path))
    return _ENCODE(msgspec.structs.replace(symbol, variants=flags)) if flags != symbol.variants else line


def flagged_pages(pages: list[Page], rules: FlagRules, slug: str, lines: list[bytes]) -> list[Page]:
    """Guides with their flags: those of patterns, and their own. A supplement has those that all elements have for
    which it is, and ``=LEVEL`` where not all readers see these: who may not know of them knows nothing of it.

    lines: symbols, as lines of JSON."""
    has_supplements = any(page.supplement is not None for page in pages)
    if not rules and not has_supplements:
        return pages
    levels = _kept_levels(lines) if has_supplements else {}

    def flags_of(path: str) -> frozenset[str]:
        at = enclosing_of(path) if pattern_of(path) is not None else path
        return rules.of(path) | kept_marks(levels.get(at, ""))

    return [
        msgspec.structs.replace(
            page, variants=sorted({*page.variants, *rules.of(page.path), *_of_targets(page, flags_of, slug)})
        )
        for page in pages
    ]


def _of_targets(page: Page, flags_of: Callable[[str], frozenset[str]], slug: str) -> frozenset[str]:
    if page.supplement is None:
        return frozenset()
    own = [path.partition("#")[0] for path in own_targets(page.supplement, slug)]
    is_all = bool(own) and len(own) == len(page.supplement.targets)
    return frozenset.intersection(*map(flags_of, own)) if is_all else frozenset()


class _Kept(msgspec.Struct):
    path: str
    visibility: str = ""


def _kept_levels(lines: list[bytes]) -> dict[str, str]:
    """The levels of elements that not all readers see, by path."""
    decode = msgspec.json.Decoder(_Kept).decode
    marks = tuple(b'"visibility":"%s"' % level.encode() for level in KEPT_LEVELS)
    found = (decode(line) for line in lines if any(mark in line for mark in marks))
    return {row.path: row.visibility for row in found if row.visibility in KEPT_LEVELS}
