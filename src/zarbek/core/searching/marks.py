"""What elements are chosen by besides their kind: tags, and of tables and columns the type and the database."""

from __future__ import annotations

from zarbek.core.model.symbol import Symbol


def marks_of(symbol: Symbol) -> tuple[str, ...]:
    """As queries have them, in small letters. A type is known by its whole and without its size; a database by its
    whole path and each of its parts."""
    found = [f"tag:{tag}" for tag in _tags(symbol)]
    if symbol.data is not None and (symbol.data.table is not None or symbol.data.column is not None):
        place = symbol.module
        found += [f"database:{name}" for name in {place, *place.split(".")}]
    if symbol.data is not None and symbol.data.column is not None and symbol.type:
        found += [f"type:{name}" for name in {symbol.type.replace(", ", ","), symbol.type.partition("(")[0].strip()}]
    return tuple(sorted({mark.lower() for mark in found}))


def _tags(symbol: Symbol) -> list[str]:
    if symbol.interface is not None and symbol.interface.operation is not None:
        return symbol.interface.operation.tags
    if symbol.data is None:
        return []
    held = symbol.data.table or symbol.data.column
    return held.tags if held is not None else []
