"""Which symbols are stored and read together."""

from __future__ import annotations

from zarbek.core.linking.index import MODULE_KINDS, SymbolEntry
from zarbek.core.linking.targets import TYPE_KINDS


class Units:
    """Names the block of each symbol, for symbols that come in order of path.

    A Python module is one block. Where a package or namespace spans many files, each of its
    outermost types is a block with all that is in it, and what is left is the module's.
    """

    def __init__(self) -> None:
        self._types: dict[str, str] = {}

    def of(self, entry: SymbolEntry) -> str:
        if entry.language == "python" or entry.kind in MODULE_KINDS:
            return entry.module
        unit = self._types.get(entry.parent, "")
        if not unit and entry.kind in TYPE_KINDS:
            unit = entry.path
        if unit:
            self._types[entry.path] = unit
        return unit or entry.module
