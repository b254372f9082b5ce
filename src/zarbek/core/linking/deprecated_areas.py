"""What is deprecated as a whole, though it bears no mark of its own: its texts may name its parts."""

from __future__ import annotations

import re
from bisect import bisect_left
from collections import defaultdict
from functools import cached_property

from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.targets import TYPE_KINDS

_WORD = re.compile(r"(?<=[a-z0-9])(?=[A-Z])|(?<=[A-Z])(?=[A-Z][a-z])")
_FEW = 3
_NEARLY_ALL = 0.8


class DeprecatedAreas:
    """Packages, headers of C, and types of C of which all that can be used is deprecated."""

    def __init__(self, index: ReleaseIndex) -> None:
        self.index = index

    def holds(self, entry: SymbolEntry) -> bool:
        """Cost: one look at all functions of C, once a release, and only where a text in C asks."""
        if entry.kind in MODULE_KINDS:
            held = (self.index.symbols[path] for path in self.index.members.get(entry.path, ()))
            types = [e for e in held if e.kind in TYPE_KINDS and e.visibility == "public"]
            return bool(types) and all(e.deprecated is not None for e in types)
        if entry.language != "c":
            return False
        return entry.file in self._headers or (entry.kind in TYPE_KINDS and self._has_old_functions(entry.name))

    @cached_property
    def _functions(self) -> list[tuple[str, bool]]:
        """Name, and whether deprecated, of the functions of C, sorted."""
        return sorted(
            (e.name, e.deprecated is not None)
            for e in self.index.symbols.values()
            if e.language == "c" and e.kind == "function" and e.visibility == "public"
        )

    @cached_property
    def _headers(self) -> frozenset[str]:
        told: dict[str, list[bool]] = defaultdict(list)
        for e in self.index.symbols.values():
            if e.language == "c" and e.kind == "function":
                told[e.file].append(e.deprecated is not None)
        return frozenset(file for file, marks in told.items() if len(marks) >= _FEW and all(marks))

    def _has_old_functions(self, name: str) -> bool:
        """Whether nearly all functions that bear the name of a type, by the custom of C, are deprecated."""
        prefix = _WORD.sub("_", name.lstrip("_")).lower().removesuffix("_t") + "_"
        at = bisect_left(self._functions, (prefix, False))
        own: list[bool] = []
        while at < len(self._functions) and self._functions[at][0].startswith(prefix):
            own.append(self._functions[at][1])
            at += 1
        return bool(own) and sum(own) >= _NEARLY_ALL * len(own)
