"""What the one resolver must know about a language."""

from __future__ import annotations

import builtins
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class Profile:
    """separator: between the parts of a name. builtins: names that every scope sees last."""

    language: str
    separator: str
    builtins: frozenset[str]
    #: Members by which a class answers for names that it does not declare.
    dynamic: frozenset[str] = frozenset()


PYTHON = Profile("python", ".", frozenset(dir(builtins)), frozenset({"__getattr__", "__getattribute__"}))
PROFILES = {"python": PYTHON}
