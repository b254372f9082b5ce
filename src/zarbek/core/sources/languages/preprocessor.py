"""Conditions of a preprocessor, of which the grammars of its languages want one branch."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass


@dataclass(slots=True)
class _Condition:
    """opening: where its first directive stands. rest: where the branches begin that do not count; -1 for none yet."""

    opening: tuple[int, int]
    rest: int = -1


def blanked(text: bytes) -> bytes:
    """Blanks of equal length and lines."""
    return re.sub(rb"[^\n]", b" ", text)


def first_branches(data: bytes, directive: re.Pattern[bytes], counts: Callable[[int, int], bool]) -> bytes:
    """The text with conditions as if their first branch held, of equal length and lines.

    directive: a whole directive, whose first group is its word. counts: whether a condition that begins at a place
    and ends at another is one of these; the others stay.
    """
    spans: list[tuple[int, int]] = []
    stack: list[_Condition] = []
    for match in directive.finditer(data):
        word = match[1]
        if word in (b"if", b"ifdef", b"ifndef"):
            stack.append(_Condition(match.span()))
        elif not stack:
            continue
        elif word == b"endif":
            top = stack.pop()
            if counts(top.opening[0], match.end()):
                spans += [(top.rest, match.end())] if top.rest >= 0 else []
                spans += [top.opening, match.span()]
        elif stack[-1].rest < 0:
            stack[-1].rest = match.start()
    out = bytearray(data)
    for start, end in spans:
        out[start:end] = blanked(bytes(out[start:end]))
    return bytes(out)
