"""Digests of source texts, by which a symbol is known again under another name."""

from __future__ import annotations

import re
from hashlib import blake2b

import msgspec

from zarbek.core.linking.targets import CALLABLE
from zarbek.core.model.symbol import Symbol

#: Shorter bodies are alike by chance.
_LEAST_CHARS = 60
_WORD, _PARTS = re.compile(rb"\w+"), re.compile(rb"\w+|\W+")


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
    words = _without(words, symbol.name.encode())
    return msgspec.structs.replace(symbol, body=blake2b(words, digest_size=8).hexdigest())


def _without(words: bytes, own: bytes) -> bytes:
    """The words without one of them."""
    if own not in words:
        return words
    if not _WORD.fullmatch(own):
        return re.sub(rb"\b%s\b" % re.escape(own), b"", words)
    # A pattern for each name would take longer to compile than this takes.
    return b"".join(part for part in _PARTS.findall(words) if part != own)
