"""The tables of a data model while its files are read, one change after the other."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from msgspec.structs import replace
from sqlglot import exp

from zarbek.core.model.datamodel import Check, Feed, Form, Key
from zarbek.core.sources.comments.sql import Comment


@dataclass(slots=True)
class Told:
    """What is said of an element, where. comments: above it, or behind it on its line; text: in the database's own
    words (COMMENT) or in a description, with the file and line where it begins."""

    file: str
    line: int
    comments: list[Comment] = field(default_factory=list)
    text: str = ""
    text_file: str = ""
    text_line: int = 0


@dataclass(slots=True)
class ColumnDraft:
    """A column. type: in the dialect's own form. first: the name with which it was made, if that is another.
    from_catalog: which facts only the database told."""

    name: str
    told: Told
    type: str = ""
    nullable: bool | None = None
    default: str = ""
    computed: str = ""
    checks: list[Check] = field(default_factory=list)
    computed_from: exp.Expr | None = None
    deprecated: bool | str = False
    tags: list[str] = field(default_factory=list)
    meta: dict[str, str] = field(default_factory=dict)
    feeds: list[str] = field(default_factory=list)
    first: str = ""
    from_catalog: list[str] = field(default_factory=list)


@dataclass(slots=True)
class TableDraft:
    """A table or view. columns: by their names in small letters, in order. query: what makes it, as it is written from
    query_line of query_file on. first: the path under which it was made, before it was renamed."""

    parts: list[str]
    told: Told
    dialect: str
    form: Form = "table"
    columns: dict[str, ColumnDraft] = field(default_factory=dict)
    keys: list[Key] = field(default_factory=list)
    checks: list[Check] = field(default_factory=list)
    query: exp.Expr | None = None
    query_start: int = 0
    query_line: int = 1
    query_file: str = ""
    named: list[str] = field(default_factory=list)
    feeds: list[Feed] = field(default_factory=list)
    deprecated: bool | str = False
    row: str = ""
    owner: str = ""
    tags: list[str] = field(default_factory=list)
    meta: dict[str, str] = field(default_factory=dict)
    written: str = ""
    compiled: str = ""
    calls: list[tuple[int, str, str]] = field(default_factory=list)
    macros: list[tuple[int, str]] = field(default_factory=list)
    first: str = ""
    from_catalog: list[str] = field(default_factory=list)
    rows: int | None = None
    changed: str = ""

    @property
    def path(self) -> str:
        """Its qualified name."""
        return ".".join(self.parts)

    def column(self, name: str) -> ColumnDraft | None:
        """A column by its name, whatever its case."""
        return self.columns.get(name.casefold())


@dataclass(slots=True)
class RoutineDraft:
    """A function, procedure or trigger. text: its declaration, without its body."""

    parts: list[str]
    told: Told
    kind: str
    text: str
    parameters: list[tuple[str, str]] = field(default_factory=list)
    returns: str = ""
    body: str = ""


class Catalog:
    """Tables and routines by their qualified names. home: where names without a database or schema lie."""

    def __init__(self, home: list[str], *, folds: bool) -> None:
        self.home, self.folds = home, folds
        self.tables: dict[str, TableDraft] = {}
        self.routines: dict[str, RoutineDraft] = {}

    def parts_of(self, table: exp.Expr) -> list[str]:
        """Database, schema and name of a table as it is called, with what it leaves out."""
        own = [self.name_of(part) for part in (table.args.get("catalog"), table.args.get("db"), table.this) if part]
        return self.placed(own)

    def placed(self, names: list[str]) -> list[str]:
        """A name by its parts, with what is left out before them."""
        return [*self.home[: max(0, len(self.home) + 1 - len(names))], *names]

    def name_of(self, identifier: exp.Expr | str) -> str:
        """A name as it is kept: in small letters where its dialect folds what stands without quotes."""
        name = identifier if isinstance(identifier, str) else identifier.name
        is_quoted = not isinstance(identifier, str) and bool(identifier.args.get("quoted"))
        return name.lower() if self.folds and not is_quoted else name

    def find(self, parts: list[str]) -> TableDraft | None:
        """A table by its parts; whatever their case."""
        return self.tables.get(_key(parts))

    def add(self, table: TableDraft) -> None:
        """Take in a table; one of that name before it is gone."""
        self.tables[_key(table.parts)] = table

    def drop(self, parts: list[str]) -> TableDraft | None:
        """Take a table away."""
        return self.tables.pop(_key(parts), None)

    def rename(self, table: TableDraft, parts: list[str]) -> None:
        """A table goes on under another name; keys that refer to it follow."""
        before = table.path
        table.first = table.first or before
        self.drop(table.parts)
        table.parts = parts
        self.add(table)
        for other in self.tables.values():
            other.keys = [_following(key, before, table.path) for key in other.keys]

    def __iter__(self) -> Iterator[TableDraft]:
        return iter(self.tables.values())


def _key(parts: list[str]) -> str:
    return ".".join(parts).casefold()


def _following(key: Key, before: str, now: str) -> Key:
    if key.target != before:
        return key
    return replace(key, target=now)
