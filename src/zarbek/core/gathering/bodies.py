"""Digests of source texts, by which a symbol is known again under another name."""

from __future__ import annotations

import re
from hashlib import blake2b

import msgspec

from zarbek.core.linking.targets import CALLABLE
from zarbek.core.model.symbol import Symbol

#: Shorter bodies are alike by chance.
_LEAST_CHARS = 60
_WORD = re.compile(rb"\w+|[^\w\s]")


def with_bodies(data: bytes, symbols: list[Symbol]) -> list[Symbol]:
    """The symbols of one file, functions with the digest of what they do.

    Blanks, the order of lines around, documentation and the symbol's own name play no part.
    """
    lines = data.split(b"\n")
    return [_with_body(lines, s) if s.kind in CALLABLE and s.end_line > s.line else s for s in symbols]


def _with_body(lines: list[bytes], symbol: Symbol) -> Symbol:
    start = symbol.line
    if symbol.doc is not None and symbol.line <= symbol.doc.line < symbol.end_line:
        start = symbol.doc.line  # A text inside of the body: what comes after its first line tells enough.
    text = b"\n".join(lines[start : symbol.end_line])
    if len(text) < _LEAST_CHARS:
        return symbol
    own = symbol.name.encode()
    words = b" ".join(word for word in _WORD.findall(text) if word != own)
    if len(words) < _LEAST_CHARS:
        return symbol
    return msgspec.structs.replace(symbol, body=blake2b(words, digest_size=8).hexdigest())
