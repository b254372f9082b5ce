"""What the page of a table, a column or a macro holds besides what all elements have. Texts are HTML."""

from __future__ import annotations

import msgspec

from zarbek.client.values.pieces import Piece


class Check(msgspec.Struct, frozen=True, omit_defaults=True):
    """A condition that holds for every row. is_enforced: whether the database refuses what breaks it. verdict:
    ``passed``, ``failed`` or ``skipped`` when it was looked at last (looked_at, ISO 8601), with what was told."""

    text: str
    name: str = ""
    columns: list[str] = []
    is_enforced: bool = False
    verdict: str = ""
    looked_at: str = ""
    told: str = ""


class TableKey(msgspec.Struct, frozen=True, omit_defaults=True):
    """A key or an index. target: of a foreign key, the table with its address; there: the columns that it refers to."""

    kind: str
    columns: list[str]
    name: str = ""
    target: list[Piece] = []
    there: list[str] = []


class DataWay(msgspec.Struct, frozen=True, omit_defaults=True):
    """A table or column that data come from or go to. how: ``copied`` or ``computed``, of columns. state: what is wrong
    with it, ``dangling`` or ``stale``, or empty."""

    project: str
    path: str
    href: str = ""
    how: str = ""
    state: str = ""


class TableColumn(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A column in its table's list. must: whether it is never empty; None where nobody says so. used_by: how many
    places refer to it. from_catalog: which of its facts only the database's catalogue told."""

    name: str
    path: str
    href: str
    type: str = ""
    must: bool | None = None
    default: str = ""
    computed: str = ""
    keys: list[str] = []
    checks: list[Check] = []
    tags: list[str] = []
    summary: str = ""
    deprecated: bool = False
    came_from: list[DataWay] = []
    unknown: str = ""
    used_by: int = 0
    from_catalog: list[str] = []


class TableQuery(msgspec.Struct, frozen=True, omit_defaults=True):
    """How a table is made, every known name a link. compiled: what its template gives, empty where it is none."""

    written: list[Piece]
    compiled: list[Piece] = []
    file: str = ""
    line: int = 0


class TableFeed(msgspec.Struct, frozen=True, omit_defaults=True):
    """Where rows come from that no query makes."""

    name: str
    text: str = ""
    href: str = ""
    state: str = ""


class TableFacts(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A table or view. place: database and schema, outermost first. came_from, goes_to: the tables beside it.
    rows, changed: about how many, and when they changed last, as the database said at seen_at (ISO 8601), if the portal
    asks it. from_catalog: what only the database tells: ``table`` for all of it, ``text``, ``key``."""

    form: str
    dialect: str
    place: list[str]
    row: str = ""
    owner: str = ""
    tags: list[str] = []
    meta: dict[str, str] = {}
    columns: list[TableColumn] = []
    keys: list[TableKey] = []
    checks: list[Check] = []
    query: TableQuery | None = None
    feeds: list[TableFeed] = []
    came_from: list[DataWay] = []
    goes_to: list[DataWay] = []
    unknown: list[str] = []
    rows: int | None = None
    changed: str = ""
    seen_at: str = ""
    from_catalog: list[str] = []


class ColumnFacts(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A column by itself."""

    must: bool | None = None
    default: str = ""
    computed: list[Piece] = []
    keys: list[TableKey] = []
    checks: list[Check] = []
    tags: list[str] = []
    meta: dict[str, str] = {}
    came_from: list[DataWay] = []
    goes_to: list[DataWay] = []
    unknown: str = ""
    from_catalog: list[str] = []


class ListedKey(msgspec.Struct, frozen=True, omit_defaults=True):
    """A primary or foreign key. target: the path of the table that it refers to, there: those columns of it."""

    columns: list[str]
    target: str = ""
    there: list[str] = []


class ListedTable(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """A table or view. place: database and schema, outermost first. file: where it is made or described, empty where
    only the database's catalogue tells of it. columns: how many it has."""

    path: str
    name: str
    href: str
    kind: str
    form: str
    place: list[str]
    file: str = ""
    summary: str = ""
    owner: str = ""
    tags: list[str] = []
    columns: int = 0
    keys: list[ListedKey] = []


class TableList(msgspec.Struct, frozen=True, kw_only=True):
    """In order of their paths."""

    project: str
    version: str
    tables: list[ListedTable]


class TableText(msgspec.Struct, frozen=True, kw_only=True):
    """text: CommonMark."""

    path: str
    text: str


class Data(msgspec.Struct, frozen=True, omit_defaults=True):
    """One of them. body: of a macro, as it stands in its file."""

    table: TableFacts | None = None
    column: ColumnFacts | None = None
    body: str = ""
