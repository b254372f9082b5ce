"""Types and declarations, part by part, with what they lead to."""

from __future__ import annotations

import msgspec


class Piece(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """text: as shown, with the last part of a name only; full: the qualified name of what it
    leads to, else the name as written."""

    text: str
    href: str = ""
    full: str = ""
    state: str = ""
    finding: str = ""
