"""The catalogue of MariaDB and MySQL, from ``information_schema`` (MariaDB Knowledge Base, "Information Schema
Tables"; MySQL Reference Manual, chapter 28): a query for each kind of thing, however many tables there are."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence
from datetime import datetime
from typing import Any

from sqlalchemy import Connection, bindparam, text

from zarbek.core.material.catalogs.bounds import Bounded, comment_of, expression_of

_SYSTEM = frozenset({"information_schema", "mysql", "performance_schema", "sys"})
_TABLES = """SELECT table_schema, table_name, table_type, table_rows, update_time, table_comment
    FROM information_schema.tables WHERE table_schema IN :schemas"""
_COLUMNS = """SELECT table_schema, table_name, column_name, column_type, is_nullable, column_default, extra,
    generation_expression, column_comment
    FROM information_schema.columns WHERE table_schema IN :schemas
    ORDER BY table_schema, table_name, ordinal_position"""
_INDEXES = """SELECT table_schema, table_name, index_name, non_unique, column_name
    FROM information_schema.statistics WHERE table_schema IN :schemas
    ORDER BY table_schema, table_name, index_name, seq_in_index"""
_FOREIGN = """SELECT table_schema, table_name, constraint_name, column_name, referenced_table_schema,
    referenced_table_name, referenced_column_name
    FROM information_schema.key_column_usage WHERE table_schema IN :schemas AND referenced_table_name IS NOT NULL
    ORDER BY table_schema, table_name, constraint_name, ordinal_position"""
_CHECKS = """SELECT t.table_schema, t.table_name, c.constraint_name, c.check_clause
    FROM information_schema.check_constraints c JOIN information_schema.table_constraints t
    ON t.constraint_schema = c.constraint_schema AND t.constraint_name = c.constraint_name
    AND t.constraint_type = 'CHECK' WHERE t.table_schema IN :schemas"""
#: MariaDB has the table's name with the check: a check's name is one of its table only.
_OWN_TABLE = "WHERE c.table_name = t.table_name AND"
_VIEWS = "SELECT table_schema, table_name, view_definition FROM information_schema.views WHERE table_schema IN :schemas"
Place = tuple[str, str]


def read_information_schema(connection: Connection, schemas: Sequence[str]) -> tuple[str, list[str], list[Any]]:
    """The schema that is meant where none is named, those that were looked at, and their tables as plain values.
    schemas: those to look at; that of the connection if empty, else all but the system's own."""
    home = connection.exec_driver_sql("SELECT DATABASE()").scalar() or ""
    there = [str(row[0]) for row in connection.exec_driver_sql("SELECT schema_name FROM information_schema.schemata")]
    wanted = list(schemas) or ([home] if home else [name for name in there if name.lower() not in _SYSTEM])
    found = _Reading(connection, [name for name in wanted if name in there])
    return home, found.schemas, found.tables()


class _Reading:
    def __init__(self, connection: Connection, schemas: list[str]) -> None:
        self._connection, self.schemas = connection, schemas
        self._columns: dict[Place, list[Any]] = defaultdict(list)
        self._keys: dict[Place, dict[tuple[str, str], dict[str, Any]]] = defaultdict(dict)
        self._checks: dict[Place, list[Any]] = defaultdict(list)

    def tables(self) -> list[Any]:
        if not self.schemas:
            return []
        self._read_columns()
        self._read_keys()
        self._read_checks()
        views = {(schema, name): query for schema, name, query in self._rows(_VIEWS)}
        return [
            _table(row, self._columns[row[0], row[1]], list(self._keys[row[0], row[1]].values()),
                   self._checks[row[0], row[1]], views.get((row[0], row[1])))
            for row in sorted(self._rows(_TABLES), key=lambda r: (r[0], r[1]))
        ]  # fmt: skip

    def _rows(self, query: str) -> Iterator[Any]:
        statement = text(query).bindparams(bindparam("schemas", expanding=True))
        answer = self._connection.execution_options(stream_results=True).execute(statement, {"schemas": self.schemas})
        return Bounded(answer)

    def _read_columns(self) -> None:
        is_mariadb = getattr(self._connection.dialect, "is_mariadb", False)
        for schema, table, name, kind, nullable, default, extra, computed, comment in self._rows(_COLUMNS):
            self._columns[schema, table].append({
                "name": name, "type": expression_of(kind), "nullable": nullable == "YES",
                "default": _default(default, extra or "", is_written=is_mariadb),
                "computed": expression_of(computed), "comment": comment_of(comment),
            })  # fmt: skip

    def _read_keys(self) -> None:
        for schema, table, key, column, *there in self._rows(_FOREIGN):
            held = self._keys[schema, table].setdefault(
                (key, "foreign"), {"kind": "foreign", "name": key, "columns": [], "target_columns": [],
                                   "target": f"{there[0]}.{there[1]}"})  # fmt: skip
            held["columns"].append(column)
            held["target_columns"].append(there[2])
        for schema, table, index, many, column in self._rows(_INDEXES):
            kind = "primary" if index == "PRIMARY" else "index" if many else "unique"
            name = "" if kind == "primary" else index
            held = self._keys[schema, table].setdefault((index, ""), {"kind": kind, "name": name, "columns": []})
            held["columns"].append(column or "an expression")
        for keys in self._keys.values():
            for place in _made_for_foreign(keys):
                del keys[place]

    def _read_checks(self) -> None:
        is_mariadb = getattr(self._connection.dialect, "is_mariadb", False)
        query = _CHECKS.replace("WHERE", _OWN_TABLE) if is_mariadb else _CHECKS
        for schema, table, name, clause in self._rows(query):
            self._checks[schema, table].append({"text": expression_of(clause), "name": name, "is_enforced": True})


def _made_for_foreign(keys: dict[tuple[str, str], dict[str, Any]]) -> list[tuple[str, str]]:
    """Indexes that the database made by itself, as each foreign key needs one."""
    foreign = [key["columns"] for key in keys.values() if key["kind"] == "foreign"]
    return [place for place, key in keys.items() if key["kind"] == "index" and key["columns"] in foreign]


def _default(default: str | None, extra: str, *, is_written: bool) -> str:
    """is_written: whether it comes as an expression, with its quotes (MariaDB since 10.2.7), or as a value."""
    if "auto_increment" in extra.lower():
        return "counted up"
    if default is None or (is_written and default.upper() == "NULL"):
        return ""
    is_value = not is_written and "DEFAULT_GENERATED" not in extra and not default.replace(".", "").isdigit()
    return expression_of("'" + default.replace("'", "''") + "'" if is_value else default)


def _table(row: Any, columns: list[Any], keys: list[Any], checks: list[Any], query: str | None) -> dict[str, Any]:
    schema, name, kind, rows, changed, comment = row
    is_view = "VIEW" in kind
    return {
        "schema": schema, "name": name, "form": "view" if is_view else "table", "columns": columns, "keys": keys,
        "checks": checks, "comment": "" if is_view else comment_of(comment), "query": expression_of(query),
        "rows": None if is_view or rows is None else int(rows),
        "changed": changed.isoformat() + "Z" if isinstance(changed, datetime) else "",
    }  # fmt: skip
