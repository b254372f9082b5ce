"""Which symbols are stored and read together."""

from __future__ import annotations

from zarbek.core.linking.index import MODULE_KINDS, SymbolEntry
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.naming import key_of, lies_inside


class Units:
    """Names the block of each symbol, for symbols that come in order of path.

    A Python module is one block. Where a package or namespace spans many files, each of its
    outermost types is a block with all that is in it, and what is left is the module's.
    """

    def __init__(self) -> None:
        self._types: dict[str, str] = {}
        self._homes: dict[str, str] = {}

    def place_of(self, entry: SymbolEntry) -> tuple[str, str]:
        """The path of the block that a symbol belongs to, and the module under whose name readers find it."""
        home = self._home_of(entry)
        if entry.language == "python" or entry.kind in MODULE_KINDS:
            return home, home
        unit = self._types.get(entry.parent, "")
        if not unit and entry.kind in TYPE_KINDS:
            unit = entry.path
        if unit:
            self._types[entry.path] = unit
        return unit or home, home

    def _home_of(self, entry: SymbolEntry) -> str:
        """The module under whose name readers find a symbol: not always the one that defines it."""
        home = entry.module
        if entry.kind in MODULE_KINDS:
            home = entry.path if key_of(entry.path) != key_of(entry.module) else home
        elif not entry.path.startswith(f"{home}.") and not lies_inside(key_of(entry.path), key_of(home)):
            home = self._homes.get(entry.parent, home)
        self._homes[entry.path] = home
        return home
