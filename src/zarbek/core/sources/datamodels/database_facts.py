"""What a database's own catalogue adds to a data model, and where it says otherwise."""

from __future__ import annotations

from collections.abc import Callable, Iterable

from msgspec.structs import replace
from sqlglot import exp

from zarbek.core.model.database_catalog import CatalogColumn, CatalogTable, DatabaseCatalog
from zarbek.core.model.datamodel import Key
from zarbek.core.model.finding import Finding
from zarbek.core.sources.comments.sql import is_behind, is_documentation
from zarbek.core.sources.datamodels.catalog import Catalog, ColumnDraft, TableDraft, Told
from zarbek.core.sources.datamodels.near_names import near_name
from zarbek.core.sources.datamodels.syntax import parse, type_of
from zarbek.core.sources.datamodels.type_names import is_same_type

#: Of names in one message.
_SHOWN = 20


class DatabaseFacts:
    """The facts of a catalogue, told of the tables of a model. Schemas to which it gives no place lie beside the
    model's own, under their names; the one that is meant where none is named is the model's own."""

    def __init__(self, facts: DatabaseCatalog, catalog: Catalog, dialect: str) -> None:
        self._facts, self._catalog, self._dialect = facts, catalog, dialect
        self._places = {name: facts.place_of(name, catalog.home) for name in facts.schemas}
        self._tables = {".".join(self._parts(t.schema, t.name)).casefold(): t for t in facts.tables}
        self._is_told = any(True for _ in catalog)
        self._new: set[str] = set()

    def _parts(self, schema: str, name: str) -> list[str]:
        return [*self._places.get(schema, [schema]), name]

    def add_tables(self) -> None:
        """Take in the tables of which no SQL tells, with all that the database says of them."""
        for table in self._facts.tables:
            parts = self._parts(table.schema, table.name)
            if self._catalog.find(parts) is not None:
                continue
            draft = TableDraft(parts, _said(table.comment), self._dialect, table.form, from_catalog=["table"])
            draft.keys, draft.checks = [self._key(key) for key in table.keys], list(table.checks)
            for column in table.columns:
                draft.columns[column.name.casefold()] = self._column(column)
            self._make(draft, table.query)
            self._catalog.add(draft)
            self._new.add(draft.path)

    def _make(self, draft: TableDraft, query: str) -> None:
        """How a view is made, with the places of its tables as they are called here."""
        node = parse(query, self._dialect) if query else None
        made = node.expression if isinstance(node, exp.Create) else node
        if not isinstance(made, exp.Query):
            return
        for table in made.find_all(exp.Table):
            self._move(table)
        for column in made.find_all(exp.Column):
            column.set("db", None)
            column.set("catalog", None)
        draft.query, draft.written = made, query

    def _move(self, called: exp.Table) -> None:
        parts = self._places.get(called.db)
        if parts is None:
            return
        where = called.args["db"].meta
        for key, name in zip(("db", "catalog"), reversed(parts), strict=False):
            identifier = exp.to_identifier(name, quoted=True)
            identifier.meta.update(where)
            called.set(key, identifier)

    def _key(self, key: Key) -> Key:
        if not key.target:
            return key
        schema, _, name = key.target.partition(".")
        return replace(key, target=".".join(self._parts(schema, name)))

    def _column(self, column: CatalogColumn) -> ColumnDraft:
        facts = {"type": column.type, "nullable": True, "default": column.default, "text": column.comment}
        return ColumnDraft(
            column.name, _said(column.comment), type_of(column.type, self._dialect), column.nullable, column.default,
            column.computed, from_catalog=[name for name, value in facts.items() if value],
        )  # fmt: skip

    # Of tables that are told of -----------------------------------------------------------

    def fill(self, is_open: Callable[[str], bool]) -> Iterable[Finding]:
        """Add what nobody wrote to the tables that are told of; where text and database do not agree, a finding.
        is_open: whether not all columns of a table, by its path, are known."""
        for draft in self._catalog:
            table = self._tables.get(draft.path.casefold())
            if table is not None:
                draft.rows, draft.changed = table.rows, table.changed
                if draft.path not in self._new:
                    yield from self._compare(draft, table, is_open=is_open(draft.path))
            elif draft.parts[:-1] in self._places.values() and not draft.feeds:
                yield self._gone(draft)
        if self._is_told:
            yield from self._untold_tables()

    def _gone(self, draft: TableDraft) -> Finding:
        place = ".".join(draft.parts[:-1])
        beside = [name for at, _, name in (path.rpartition(".") for path in self._new) if at == place]
        return Finding(
            "stale/table", "warning", draft.path, f"{draft.path} stands here; the database does not have it.",
            file=draft.told.file, line=draft.told.line, text=draft.parts[-1], target=draft.path,
            **near_name(draft.parts[-1], beside, "a table of the database with a name like it"),
        )  # fmt: skip

    def _compare(self, draft: TableDraft, table: CatalogTable, *, is_open: bool) -> Iterable[Finding]:
        _tell(draft, table.comment)
        there = {column.name.casefold(): column for column in table.columns}
        untold = [column.name for key, column in there.items() if key not in draft.columns]
        for key, column in draft.columns.items():
            if key in there:
                yield from self._fill_column(draft, column, there[key])
            else:
                yield _gone_column(draft, column, untold)
        if not draft.keys and table.keys:
            draft.keys = [self._key(key) for key in table.keys]
            draft.from_catalog.append("key")
        for key, found in there.items():
            if key not in draft.columns:
                draft.columns[key] = self._column(found)
        if untold and not is_open:
            yield _untold_columns(draft, untold)

    def _fill_column(self, table: TableDraft, draft: ColumnDraft, found: CatalogColumn) -> Iterable[Finding]:
        _tell(draft, found.comment)
        has = type_of(found.type, self._dialect)
        if not draft.type:
            draft.type = has
            draft.from_catalog.append("type")
        elif has and not is_same_type(draft.type, has, self._dialect):
            yield _other_type(table, draft, has)
        if draft.nullable is None:
            draft.nullable = found.nullable
            draft.from_catalog.append("nullable")
        if not (draft.default or draft.computed) and found.default:
            draft.default = found.default
            draft.from_catalog.append("default")

    def _untold_tables(self) -> Iterable[Finding]:
        by_place: dict[str, list[str]] = {}
        for path in sorted(self._new):
            draft = self._catalog.find(path.split("."))
            if draft is not None and not draft.told.text_file:
                by_place.setdefault(".".join(draft.parts[:-1]), []).append(draft.parts[-1])
        for place, names in by_place.items():
            what = "a table" if len(names) == 1 else f"{len(names)} tables"
            yield Finding("text/untold", "note", place,
                          f"The database has {what} of which nothing here tells: {name_some(names)}.")  # fmt: skip


def _said(comment: str) -> Told:
    return Told("", 0, text=comment)


def _tell(draft: TableDraft | ColumnDraft, comment: str) -> None:
    """What the database says of an element where nobody else says anything."""
    told = draft.told
    if comment and not told.text and not any(is_documentation(c.raw) or is_behind(c.raw) for c in told.comments):
        told.text, told.text_line = comment, told.line
        draft.from_catalog.append("text")


def _gone_column(table: TableDraft, column: ColumnDraft, untold: list[str]) -> Finding:
    path = f"{table.path}.{column.name}"
    return Finding(
        "stale/column", "warning", table.path, f"{path} stands here; the database does not have it.",
        file=column.told.file, line=column.told.line, text=column.name, target=path,
        **near_name(column.name, untold, "a column of the database with a name like it"),
    )  # fmt: skip


def _other_type(table: TableDraft, column: ColumnDraft, has: str) -> Finding:
    path = f"{table.path}.{column.name}"
    return Finding(
        "text/type-conflict", "warning", path, f"{column.name} is {column.type} here; the database has {has}.",
        file=column.told.file, line=column.told.line, text=column.type, target=path, suggestion=has,
        why="the type that the database gives",
    )  # fmt: skip


def _untold_columns(table: TableDraft, names: list[str]) -> Finding:
    what = "a column" if len(names) == 1 else f"{len(names)} columns"
    return Finding(
        "text/untold", "note", table.path,
        f"In the database, {table.path} has {what} of which nothing here tells: {name_some(names)}.",
        file=table.told.file, line=table.told.line, text=names[0], target=table.path,
    )  # fmt: skip


def name_some(names: list[str]) -> str:
    """The first of many names, and how many more there are."""
    rest = len(names) - _SHOWN
    return ", ".join(names[:_SHOWN]) + (f" and {rest} more" if rest > 0 else "")
