"""Texts that are said once and used elsewhere: ``{text}`NAME``` stands for that of a block or of another element."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from msgspec.structs import replace

from zarbek.core.findings.mention_context import texts_of
from zarbek.core.model.doc_text import TEXT, USE_BEGINS
from zarbek.core.model.limits import is_dear
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.guides.dialect import commonmark


def with_uses(symbols: list[Symbol], data: bytes) -> list[Symbol]:
    """Symbols with a mention for each text that theirs take. data: of the file, from which the places are."""
    if not any(map(_is_marked, symbols)):
        return symbols
    lines = data.decode("utf-8", errors="replace").split("\n")
    return [_with_uses(s, lines) if _is_marked(s) else s for s in symbols]


def _is_marked(symbol: Symbol) -> bool:
    return symbol.doc is not None and any(USE_BEGINS in text for text in texts_of(symbol.doc))


def _with_uses(symbol: Symbol, lines: Sequence[str]) -> Symbol:
    names = dict.fromkeys(name for text in texts_of(symbol.doc) for name in _names_in(text)) if symbol.doc else {}
    return replace(symbol, mentions=[*symbol.mentions, *_mentions(symbol, list(names), lines)])


def _names_in(text: str) -> Iterator[str]:
    """Those that a page of the text shows: code, and what is too long to be set, takes none."""
    if USE_BEGINS not in text or is_dear(text):
        return
    for block in commonmark().parse(text):
        for token in block.children or ():
            if token.type == "myst_role" and token.meta["name"] == TEXT:
                yield token.content.strip()


def _mentions(symbol: Symbol, names: list[str], lines: Sequence[str]) -> Iterator[Mention]:
    first = max((symbol.doc.line if symbol.doc is not None else 0) or symbol.line, 1)
    for name in names:
        row = next((n for n in range(first, len(lines) + 1) if name in lines[n - 1]), 0)
        column = lines[row - 1].find(name) + 1 if row else 0
        yield Mention(name, name, "block", "doc", row or first, column, TEXT)
