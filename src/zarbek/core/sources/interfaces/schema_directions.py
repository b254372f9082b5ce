"""Which schemas callers send, and which they receive, in whatever they stand."""

from __future__ import annotations

from collections.abc import Iterable

from msgspec.structs import replace

from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol


class Directions:
    """Collects what operations use right away and what schemas refer to. A direction is ``request`` or ``response``."""

    def __init__(self) -> None:
        self._used: dict[str, set[str]] = {}
        self._refers: dict[str, set[str]] = {}

    def use(self, mention: Mention, direction: str) -> None:
        """An operation names a schema of the project in one direction."""
        for path in own_paths([mention]):
            self._used.setdefault(path, set()).add(direction)

    def refer(self, path: str, mentions: Iterable[Mention]) -> None:
        """All that a schema or message names."""
        self._refers[path] = own_paths(mentions)

    def mark(self, symbols: list[Symbol]) -> None:
        """Give schemas flags for the directions that reach them."""
        reached = {path: set(words) for path, words in self._used.items()}
        stack = [(path, word) for path, words in self._used.items() for word in words]
        while stack:
            path, word = stack.pop()
            for further in self._refers.get(path, ()):
                if word not in reached.setdefault(further, set()):
                    reached[further].add(word)
                    stack.append((further, word))
        symbols[:] = [
            replace(s, flags=sorted({*s.flags, *reached[s.path]})) if s.kind == "schema" and s.path in reached else s
            for s in symbols
        ]


def own_paths(mentions: Iterable[Mention]) -> set[str]:
    """The symbols of the same project that mentions name."""
    return {m.name[4:].partition("#")[0] for m in mentions if m.name.startswith("api:")}
