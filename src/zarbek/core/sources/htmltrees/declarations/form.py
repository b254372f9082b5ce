"""What a declaration stands in, and the source that is made of both for the reader of its language."""

from __future__ import annotations

from typing import NamedTuple

#: Where the readers of C and C++ say that something stands that is in no namespace.
NO_MODULE = "x.hpp"
_TYPES = frozenset({"class", "struct", "union", "interface", "enum", "trait", "record", "annotation", "exception"})


class Owner(NamedTuple):
    """What a declaration stands in. kind: of it, as ``class``, or empty where it is not known. names: of what encloses
    it and its own, from outside inwards. package: what all of those stand in, in the language's spelling."""

    kind: str = ""
    names: tuple[str, ...] = ()
    package: str = ""

    @property
    def is_type(self) -> bool:
        """Whether what it holds are members."""
        return self.kind in _TYPES

    @property
    def outer(self) -> Owner:
        """What it stands in itself, as far as that is known."""
        return Owner("", self.names[:-1], self.package)


NO_OWNER = Owner()


def separator_of(language: str) -> str:
    """What stands between the parts of a qualified name."""
    return "::" if language in ("c", "cpp", "rust") else "."


class Form(NamedTuple):
    """A source with the declaration on a line of its own. before: lines that stand before it."""

    file: str
    before: str
    line: str
    after: str
    module: str = ""
