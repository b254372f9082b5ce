"""The catalogue of PostgreSQL and SQLite, through SQLAlchemy's inspector; with PostgreSQL's own row estimates."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

from sqlalchemy import Connection, bindparam, inspect, text
from sqlalchemy.engine.interfaces import ReflectedColumn
from sqlalchemy.engine.reflection import Inspector, ObjectKind

from zarbek.core.material.catalogs.bounds import comment_of, expression_of

_SYSTEM = ("information_schema", "pg_")
#: Of tables and materialised views; -1 for one that was never looked at (PostgreSQL, "pg_class").
_ROWS = """SELECT n.nspname, c.relname, c.reltuples FROM pg_catalog.pg_class c
    JOIN pg_catalog.pg_namespace n ON n.oid = c.relnamespace
    WHERE n.nspname IN :schemas AND c.relkind IN ('r', 'p', 'm') AND c.reltuples >= 0"""
Place = tuple[str | None, str]


def inspect_catalog(connection: Connection, schemas: Sequence[str]) -> tuple[str, list[str], list[Any]]:
    """The schema that is meant where none is named, those that were looked at, and their tables as plain values.
    schemas: those to look at; all but the system's own if empty."""
    inspector = inspect(connection)
    home = inspector.default_schema_name or "main"
    there = inspector.get_schema_names()
    wanted = list(schemas) or [name for name in there if not name.startswith(_SYSTEM)]
    looked_at = [name for name in wanted if name in there]
    rows = _row_estimates(connection, looked_at)
    tables = [one for schema in looked_at for one in _tables_of(inspector, schema, rows)]
    return home, looked_at, tables


def _row_estimates(connection: Connection, schemas: list[str]) -> dict[Place, int]:
    if connection.dialect.name != "postgresql" or not schemas:
        return {}
    statement = text(_ROWS).bindparams(bindparam("schemas", expanding=True))
    return {(schema, name): int(n) for schema, name, n in connection.execute(statement, {"schemas": schemas})}


def _tables_of(inspector: Inspector, schema: str, rows: dict[Place, int]) -> Iterable[dict[str, Any]]:
    many: dict[str, Any] = {"schema": schema, "kind": ObjectKind.ANY}
    columns, comments = inspector.get_multi_columns(**many), _comments(inspector, many)
    primary, unique = inspector.get_multi_pk_constraint(**many), inspector.get_multi_unique_constraints(**many)
    foreign, indexes = inspector.get_multi_foreign_keys(**many), inspector.get_multi_indexes(**many)
    checks = inspector.get_multi_check_constraints(**many)
    views = {*inspector.get_view_names(schema), *_materialized(inspector, schema)}
    for place in sorted(columns, key=lambda place: place[1]):
        name = place[1]
        yield {
            "schema": schema, "name": name, "form": "view" if name in views else "table",
            "columns": [_column(inspector, each) for each in columns[place]],
            "keys": _keys(primary.get(place), unique.get(place), foreign.get(place), indexes.get(place), schema),
            "checks": [{"text": expression_of(c["sqltext"]), "name": c.get("name") or "", "is_enforced": True}
                       for c in checks.get(place) or []],
            "comment": comment_of(comments.get(place)),
            "query": expression_of(inspector.get_view_definition(name, schema)) if name in views else "",
            "rows": rows.get((schema, name)),
        }  # fmt: skip


def _comments(inspector: Inspector, many: dict[str, Any]) -> dict[Place, str | None]:
    if not inspector.dialect.supports_comments:
        return {}
    return {place: said["text"] for place, said in inspector.get_multi_table_comment(**many).items()}


def _materialized(inspector: Inspector, schema: str) -> list[str]:
    return inspector.get_materialized_view_names(schema) if inspector.dialect.name == "postgresql" else []


def _column(inspector: Inspector, each: ReflectedColumn) -> dict[str, Any]:
    default, computed = each.get("default") or "", each["computed"]["sqltext"] if each.get("computed") else ""
    is_counted = bool(each.get("identity")) or str(default).startswith("nextval(")
    return {
        "name": each["name"], "type": expression_of(each["type"].compile(dialect=inspector.dialect)),
        "nullable": bool(each["nullable"]), "default": "counted up" if is_counted else expression_of(default),
        "computed": expression_of(computed), "comment": comment_of(each.get("comment")),
    }  # fmt: skip


def _keys(primary: Any, unique: Any, foreign: Any, indexes: Any, schema: str) -> list[dict[str, Any]]:
    found = [{"kind": "primary", "columns": primary["constrained_columns"]}] if primary else []
    found = [key for key in found if key["columns"]]
    found += [{"kind": "unique", "columns": u["column_names"], "name": u.get("name") or ""} for u in unique or []]
    found += [
        {"kind": "foreign", "columns": f["constrained_columns"], "name": f.get("name") or "",
         "target": f"{f['referred_schema'] or schema}.{f['referred_table']}", "target_columns": f["referred_columns"]}
        for f in foreign or []
    ]  # fmt: skip
    return found + [_index(each) for each in indexes or [] if not each.get("duplicates_constraint")]


def _index(each: Any) -> dict[str, Any]:
    columns = [c or "an expression" for c in each.get("expressions") or each["column_names"]]
    return {"kind": "unique" if each.get("unique") else "index", "name": each.get("name") or "", "columns": columns}
