"""Names of tables and columns in the index of a release: their case plays no part where exactly one is meant."""

from __future__ import annotations

from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.model.datamodel import OPEN
from zarbek.core.model.naming import key_of

TABLE_KINDS = frozenset({"table", "view"})
#: What a database gives every table (PostgreSQL, "System Columns"; SQLite, "Rowid"; Oracle, "Pseudocolumns").
_SYSTEM = frozenset(
    "oid ctid xmin xmax cmin cmax tableoid rowid _rowid_ rownum level sysdate current_user user session_user".split()
)


def table_at(index: ReleaseIndex, name: str) -> SymbolEntry | None:
    """The table that a column's qualified name is of."""
    outer = key_of(name).rpartition(".")[0]
    return next((entry for entry in index.named(outer) if entry.kind in TABLE_KINDS), None)


def column_like(index: ReleaseIndex, name: str) -> SymbolEntry | None:
    """The one column of the named table whose name differs in case only."""
    table = table_at(index, name)
    last = key_of(name).rpartition(".")[2].casefold()
    members = index.own_members(table.path).items() if table is not None else ()
    found = [entry for called, entries in members for entry in entries if called.casefold() == last]
    return found[0] if len(found) == 1 else None


def has_all_columns(index: ReleaseIndex, name: str) -> bool:
    """Whether a column would be known if its table had it."""
    table = table_at(index, name)
    return table is not None and OPEN not in table.flags and name.rpartition(".")[2].casefold() not in _SYSTEM
