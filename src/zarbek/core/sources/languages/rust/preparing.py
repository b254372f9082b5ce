"""Rust as the grammar knows it. Source: RFC 1584 (declarative macros 2.0)."""

from __future__ import annotations

import re

_MACRO = re.compile(rb"\b(pub(?:\([^)]*\))?\s+)macro (\w+\s*)(?=[({])")
#: By custom a macro that keeps or drops the items that it is given, by a condition.
_WRAPPER = re.compile(rb"^[ \t]*cfg_\w+!\s*\{(?!\s*if\b)", re.MULTILINE)
_CLOSING = {b"(": b")", b"{": b"}"}


def known_to_grammar(data: bytes) -> bytes:
    """The text with each ``pub macro`` as an item of equal length, its patterns and rules blank, and
    without the macros around items that are there under some condition."""
    out = bytearray(data)
    for match in _WRAPPER.finditer(data):
        end = _end_of(data, match.end() - 1)
        if end:
            out[match.start() : match.end()] = re.sub(rb"[^\n]", b" ", match[0])
            out[end - 1 : end] = b" "
    for match in _MACRO.finditer(data):
        opening = data[match.end() : match.end() + 1]
        word = b"fn    " if opening == b"(" else b"mod   "
        out[match.start() : match.end()] = match[1] + word + match[2]
        end = _blank_inside(out, data, match.end())
        if opening == b"(" and (body := data.find(b"{", end)) >= 0 and not data[end:body].strip():
            _blank_inside(out, data, body)
    return bytes(out)


def _blank_inside(out: bytearray, data: bytes, start: int) -> int:
    """Blank what stands between a bracket and the one that closes it; the place after that."""
    end = _end_of(data, start)
    if end:
        out[start + 1 : end - 1] = re.sub(rb"[^\n]", b" ", data[start + 1 : end - 1])
    return end or start + 1


def _end_of(data: bytes, start: int) -> int:
    """The place after the bracket that closes the one at a place; 0 where none does."""
    opening = data[start : start + 1]
    signs = re.compile(rb"[%s%s]" % (re.escape(opening), re.escape(_CLOSING[opening])))
    depth = 0
    for match in signs.finditer(data, start):
        depth += 1 if match[0] == opening else -1
        if not depth:
            return match.end()
    return 0
