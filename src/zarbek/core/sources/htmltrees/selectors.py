"""What selectors of CSS a project file may have, and what they choose. Source: Selectors Level 4 (W3C), section 3.1.

Few are enough, and their cost is known: matching a page takes time in proportion to its length for one compound, and to
that times its depth for two. More of them, or a functional pseudo-class, would let one page take days.
"""

from __future__ import annotations

import re

_COMPOUND = (
    r"(?=[\w*#.\[])(?:[A-Za-z][A-Za-z0-9-]*|\*)?"
    r"""(?:[#.][A-Za-z_][\w-]*|\[[A-Za-z_][\w-]*(?:[~|^$*]?=(?:"[^"\\\n]*"|'[^'\\\n]*'|[A-Za-z_][\w-]*))?\])*"""
)
_ONE = re.compile(_COMPOUND, re.ASCII)
_TWO = re.compile(rf"{_COMPOUND}(?:(?:\s*>\s*|\s+){_COMPOUND})?", re.ASCII)
#: Alternatives, with commas between them.
_MAX_ALTERNATIVES = 8


def is_compound(selector: str) -> bool:
    """Whether it is one compound selector: a tag, an id, classes and attributes of one element."""
    return _ONE.fullmatch(selector.strip()) is not None


def is_selector(selector: str) -> bool:
    """Whether it is a list of alternatives, each a compound, or two where one is within the other."""
    parts = [part.strip() for part in selector.split(",")]
    return len(parts) <= _MAX_ALTERNATIVES and all(_TWO.fullmatch(part) for part in parts)
