"""What a data model says of a table, of a column, or of a macro that its queries are written with."""

from __future__ import annotations

from typing import Literal

import msgspec

from zarbek.core.model.limits import Count, File, Number, Path

#: Flag of a table whose columns are not all known.
OPEN = "open"
KeyKind = Literal["primary", "unique", "foreign", "index"]
#: What a column does with one that it is made from: has its values, or is computed from them.
How = Literal["copied", "computed"]
Form = Literal["table", "view", "query", "outside"]


class Key(msgspec.Struct, frozen=True, omit_defaults=True):
    """A key or an index. columns: names, or expressions in brackets. target, target_columns: of a foreign key the
    table, by its path, and the columns that it refers to."""

    kind: KeyKind
    columns: list[str]
    name: str = ""
    target: Path = ""
    target_columns: list[str] = []


class Check(msgspec.Struct, frozen=True, omit_defaults=True):
    """A condition that holds for every row. text: as an expression, or in words. columns: those it is about, where it
    says so. is_enforced: whether the database refuses what breaks it; others are looked at now and then.
    verdict: ``passed``, ``failed`` or ``skipped`` when it was looked at last, with when (ISO 8601) and what was said.
    """

    text: str
    name: str = ""
    columns: list[str] = []
    is_enforced: bool = False
    verdict: str = ""
    looked_at: str = ""
    told: str = ""


class Query(msgspec.Struct, frozen=True, omit_defaults=True):
    """How a table is made. written: as it stands in its file, from line on; compiled: what its template gives, empty
    where it is none. file: that of the query, if it is not the table's."""

    written: str
    compiled: str = ""
    line: Number = 0
    file: File = ""


class Feed(msgspec.Struct, frozen=True, omit_defaults=True):
    """Where a table's rows come from, outside of all queries. address: an ``api:`` reference or a URL, or empty."""

    name: str
    text: str = ""
    address: str = ""


class Step(msgspec.Struct, frozen=True, array_like=True):
    """A column that another is made from. path: of that column, as ``TABLE.COLUMN``."""

    path: Path
    how: How = "copied"


class Table(msgspec.Struct, frozen=True, omit_defaults=True):
    """A table or view.

    dialect: of the SQL that tells of it. form: ``table``, ``view``, ``query`` (a file makes it) or ``outside`` (it is
    described, and made by nobody here). row: what one row is, in words. reads: paths of the tables that its query
    reads. unknown: what of the way of its data could not be told, and why. order: its columns' names, as they stand.
    rows, changed: about how many, and when (ISO 8601) they changed last, from the database's catalogue. from_catalog:
    what else only that told: ``table`` for all of it, ``text``, ``key``.
    """

    dialect: str
    form: Form = "table"
    row: str = ""
    keys: list[Key] = []
    checks: list[Check] = []
    owner: str = ""
    tags: list[str] = []
    meta: dict[str, str] = {}
    query: Query | None = None
    reads: list[Path] = []
    feeds: list[Feed] = []
    unknown: list[str] = []
    order: list[str] = []
    rows: Count | None = None
    changed: str = ""
    from_catalog: list[str] = []


class Column(msgspec.Struct, frozen=True, omit_defaults=True):
    """A column; its type stands with its symbol. nullable: None where nobody says so. default, computed: expressions.
    steps: what it is made from; unknown: why that cannot be told, or not in full. from_catalog: which of its facts
    only the database's catalogue told: ``text``, ``type``, ``nullable``, ``default``."""

    nullable: bool | None = None
    default: str = ""
    computed: str = ""
    checks: list[Check] = []
    tags: list[str] = []
    meta: dict[str, str] = {}
    steps: list[Step] = []
    unknown: str = ""
    from_catalog: list[str] = []


class Macro(msgspec.Struct, frozen=True, omit_defaults=True):
    """A piece of a template that queries are written with. body: as it stands in its file."""

    body: str


class DataModel(msgspec.Struct, frozen=True, omit_defaults=True):
    """One of them."""

    table: Table | None = None
    column: Column | None = None
    macro: Macro | None = None
