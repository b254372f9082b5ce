"""Digests of source texts, by which a symbol is known again under another name."""

from __future__ import annotations

import re
from hashlib import blake2b

import msgspec

from zarbek.core.linking.targets import CALLABLE
from zarbek.core.model.symbol import Symbol

#: Shorter bodies are alike by chance.
_LEAST_CHARS = 60


def with_bodies(data: bytes, symbols: list[Symbol]) -> list[Symbol]:
    """The symbols of one file, functions with the digest of what they do.

    How lines are broken and indented, documentation and the symbol's own name play no part.
    """
    lines = data.split(b"\n")
    return [_with_body(lines, s) if s.kind in CALLABLE and s.end_line > s.line else s for s in symbols]


def _with_body(lines: list[bytes], symbol: Symbol) -> Symbol:
    start = symbol.line
    if symbol.doc is not None and symbol.line <= symbol.doc.line < symbol.end_line:
        start = symbol.doc.line  # A text inside of the body: what comes after its first line tells enough.
    words = b" ".join(b" ".join(lines[start : symbol.end_line]).split())
    if len(words) < _LEAST_CHARS:
        return symbol
    own = symbol.name.encode()
    if own in words:
        words = re.sub(rb"\b%s\b" % re.escape(own), b"", words)
    return msgspec.structs.replace(symbol, body=blake2b(words, digest_size=8).hexdigest())
