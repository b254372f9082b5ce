"""Type expressions cut into pieces, so that each known name can be a link."""

from __future__ import annotations

import re
from collections.abc import Callable

import msgspec

_NAME = re.compile(r"[A-Za-z_$][\w$]*(?:(?:\.|::)[A-Za-z_$][\w$]*)*")
_PARTS = re.compile(r"\.|::")


class Piece(msgspec.Struct, frozen=True, omit_defaults=True):
    """text: as shown, with the last part of a name only; full: the qualified name of what it
    leads to, else the name as written."""

    text: str
    href: str = ""
    full: str = ""
    state: str = ""
    finding: str = ""


def cut_type(
    text: str, resolve: Callable[[str], tuple[str, str, str, str] | None], *, is_whole: bool = False
) -> list[Piece]:  # fmt: skip
    """Pieces whose texts join to the expression with short names, or to the whole of it.

    resolve: name as written to (href, state, finding, qualified name or empty), or None.
    """
    pieces: list[Piece] = []
    at = 0
    for match in _NAME.finditer(text):
        found = resolve(match[0])
        if found is None:
            continue
        if match.start() > at:
            pieces.append(Piece(text[at : match.start()]))
        href, state, finding, full = found
        shown = match[0] if is_whole else _PARTS.split(match[0])[-1]
        pieces.append(Piece(shown, href, full or match[0], state, finding))
        at = match.end()
    if at < len(text):
        pieces.append(Piece(text[at:]))
    return pieces
