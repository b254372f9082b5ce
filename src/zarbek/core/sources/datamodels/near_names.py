"""Names that one may have meant."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TypedDict

from rapidfuzz import process

#: Of 100, how alike two names of tables or columns must be for one to be offered in place of the other.
_ALIKE = 75


class Near(TypedDict, total=False):
    """What a finding says of it."""

    suggestion: str
    why: str


def near_name(name: str, among: Iterable[str], why: str = "a name like it") -> Near:
    """Of some names the one that is most like one that is not there; empty if none is like it."""
    near = process.extractOne(name, list(among), score_cutoff=_ALIKE)
    return {"suggestion": near[0], "why": why} if near else {}
