"""Rust as the grammar knows it. Source: RFC 1584 (declarative macros 2.0)."""

from __future__ import annotations

import re

_MACRO = re.compile(rb"\b(pub(?:\([^)]*\))?\s+)macro (\w+\s*)(?=[({])")
#: By custom macros that keep or drop the items that they are given, by a condition, which may stand first as
#: an inner attribute; or that add something to the type that they are given.
_WRAPPER = re.compile(
    rb"^[ \t]*(?:cfg_\w+|feature|(?:pin_project_lite::)?pin_project)!\s*\{(?!\s*if\b)"
    rb"(?:\s*#!\[(?:[^\[\]]|\[[^\[\]]*\])*\])?",
    re.MULTILINE,
)
#: One of these stands in each.
_OF_WRAPPERS = (b"cfg_", b"feature", b"pin_project")
#: Items of which those under a condition are there, by the custom of one macro.
_CHOICE = re.compile(rb"^[ \t]*(?:cfg_if::)?cfg_if!\s*\{", re.MULTILINE)
_BRANCH = re.compile(
    rb"(?:\s|//[^\n]*\n)*(?:else\s+)?(?:if\s*#\[(?:[^\[\]]|\[[^\[\]]*\])*\]\s*|(?<=else )|(?<=else))\{"
)
_BODY = re.compile(rb"\s*\{")


def known_to_grammar(data: bytes) -> bytes:
    """The text with each ``pub macro`` as an item of equal length, its patterns and rules blank, and
    without the macros around items that are there under some condition."""
    wrappers = list(_WRAPPER.finditer(data)) if any(word in data for word in _OF_WRAPPERS) else []
    macros = list(_MACRO.finditer(data)) if b"macro " in data else []
    choices = list(_CHOICE.finditer(data)) if b"cfg_if" in data else []
    if not wrappers and not macros and not choices:
        return data
    out, ends = bytearray(data), _ends(data)
    for match in wrappers:
        end = ends.get(match.start() + match[0].index(b"{"))
        if end:
            out[match.start() : match.end()] = re.sub(rb"[^\n]", b" ", match[0])
            out[end - 1 : end] = b" "
    for match in choices:
        _open_branches(data, out, match, ends)
    for match in macros:
        opening = data[match.end() : match.end() + 1]
        word = b"fn    " if opening == b"(" else b"mod   "
        out[match.start() : match.end()] = match[1] + word + match[2]
        end = _blank_inside(out, match.end(), ends)
        if opening == b"(" and (body := _BODY.match(data, end)):
            _blank_inside(out, body.end() - 1, ends)
    return bytes(out)


def _open_branches(data: bytes, out: bytearray, choice: re.Match[bytes], ends: dict[int, int]) -> None:
    """Leave nothing of a choice but the items of its branches."""
    end = ends.get(choice.end() - 1)
    if not end:
        return
    blanks = [choice.span(), (end - 1, end)]
    at = choice.end()
    while (branch := _BRANCH.match(data, at)) is not None and (after := ends.get(branch.end() - 1)):
        blanks += [branch.span(), (after - 1, after)]
        at = after
    for start, stop in blanks:
        out[start:stop] = re.sub(rb"[^\n]", b" ", data[start:stop])


def _blank_inside(out: bytearray, start: int, ends: dict[int, int]) -> int:
    """Blank what stands between a bracket and the one that closes it; the place after that."""
    end = ends.get(start)
    if end:
        out[start + 1 : end - 1] = re.sub(rb"[^\n]", b" ", bytes(out[start + 1 : end - 1]))
    return end or start + 1


def _ends(data: bytes) -> dict[int, int]:
    """Place of each bracket to the place after the one that closes it, each kind by itself."""
    found: dict[int, int] = {}
    for signs, closing in ((rb"[{}]", b"}"), (rb"[()]", b")")):
        opened: list[int] = []
        for match in re.finditer(signs, data):
            if match[0] != closing:
                opened.append(match.start())
            elif opened:
                found[opened.pop()] = match.end()
    return found
