"""Texts that are said once and used elsewhere: ``{text}`NAME``` stands for that of a block or of another element."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from zarbek.core.findings.mention_context import texts_of
from zarbek.core.model.doc_text import TEXT, USE_BEGINS
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol

_USE = re.compile(r"\{text\}`([^`\n]+)`")


def with_uses(symbols: list[Symbol], data: bytes) -> list[Symbol]:
    """Symbols with a mention for each text that theirs take. data: of the file, from which the places are."""
    if not any(map(_is_marked, symbols)):
        return symbols
    lines = data.decode("utf-8", errors="replace").split("\n")
    return [_with_uses(s, lines) if _is_marked(s) else s for s in symbols]


def _is_marked(symbol: Symbol) -> bool:
    return symbol.doc is not None and any(USE_BEGINS in text for text in texts_of(symbol.doc))


def _with_uses(symbol: Symbol, lines: Sequence[str]) -> Symbol:
    names = dict.fromkeys(m[1].strip() for t in texts_of(symbol.doc) for m in _USE.finditer(t)) if symbol.doc else {}
    return replace(symbol, mentions=[*symbol.mentions, *_mentions(symbol, list(names), lines)])


def _mentions(symbol: Symbol, names: list[str], lines: Sequence[str]) -> Iterator[Mention]:
    first = max((symbol.doc.line if symbol.doc is not None else 0) or symbol.line, 1)
    for name in names:
        row = next((n for n in range(first, len(lines) + 1) if name in lines[n - 1]), 0)
        column = lines[row - 1].find(name) + 1 if row else 0
        yield Mention(name, name, "block", "doc", row or first, column, TEXT)
