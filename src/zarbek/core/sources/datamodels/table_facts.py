"""What descriptions say, added to the tables that they describe; what they describe and is not there is a finding."""

from __future__ import annotations

from collections.abc import Container, Iterable

from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.sources.datamodels.catalog import Catalog, ColumnDraft, TableDraft, Told
from zarbek.core.sources.datamodels.descriptions import (
    DescribedColumn,
    DescribedTable,
    Words,
    checks_of,
    feeds_of,
)
from zarbek.core.sources.datamodels.near_names import near_name
from zarbek.core.sources.datamodels.syntax import type_of
from zarbek.core.sources.datamodels.type_names import is_same_type


def describe(
    catalog: Catalog, described: Iterable[DescribedTable], file: str, dialect: str, *, is_declared: bool,
    open_tables: Container[str],
) -> list[Finding]:  # fmt: skip
    """Add what a file describes to the tables. is_declared: whether SQL says which tables there are: what it does not
    have is gone then, unless it is said to come from elsewhere; otherwise descriptions say so themselves. open_tables:
    paths of those whose columns are not all known."""
    findings: list[Finding] = []
    for each in described:
        parts = parts_of(catalog, each)
        table = catalog.find(parts)
        if table is None:
            if is_declared and not each.form.feeds:
                findings.append(_gone(each, ".".join(parts), file, catalog))
                continue
            table = TableDraft(parts, Told(file, each.line), dialect, "outside")
            catalog.add(table)
        findings += _Describing(table, file, dialect, is_open=table.path in open_tables).add(each)
    return findings


def parts_of(catalog: Catalog, each: DescribedTable) -> list[str]:
    """Database, schema and name of a table as it is described, with what is left out."""
    return catalog.placed(each.name.split("."))


def _gone(each: DescribedTable, path: str, file: str, catalog: Catalog) -> Finding:
    return Finding(
        "stale/table", "warning", path, f"{path} is described, and no SQL here makes it.", file=file, line=each.line,
        text=each.name, target=path, **near_name(path, (table.path for table in catalog)),
    )  # fmt: skip


class _Describing:
    def __init__(self, table: TableDraft, file: str, dialect: str, *, is_open: bool) -> None:
        self._table, self._file, self._dialect = table, file, dialect
        self._is_known = table.form != "outside" and bool(table.columns) and not is_open

    def add(self, each: DescribedTable) -> list[Finding]:
        """What is wrong with what is said."""
        table, form = self._table, each.form
        self._tell(table.told, form.description, each.line)
        table.row, table.owner = form.row or table.row, form.owner or table.owner
        table.tags, table.meta = [*table.tags, *form.tags], table.meta | _texts(form.meta)
        table.deprecated = form.deprecated or table.deprecated
        table.checks = [*table.checks, *checks_of(form.checks)]
        table.feeds = [*table.feeds, *feeds_of(form.feeds)]
        return [finding for column in each.columns if (finding := self._column(column)) is not None]

    def _tell(self, told: Told, text: str, line: int) -> None:
        if text.strip():
            told.text, told.text_file, told.text_line = text, self._file, line

    def _column(self, each: DescribedColumn) -> Finding | None:
        draft = self._table.column(each.name)
        if draft is None:
            if self._is_known:
                return self._gone(each)
            draft = ColumnDraft(each.name, Told(self._file, each.line))
            self._table.columns[each.name.casefold()] = draft
        form = each.form
        self._tell(draft.told, form.description, each.line)
        draft.checks = [*draft.checks, *checks_of(form.checks, draft.name)]
        draft.tags, draft.meta = [*draft.tags, *form.tags], draft.meta | _texts(form.meta)
        draft.deprecated, draft.feeds = form.deprecated or draft.deprecated, [*draft.feeds, *form.feeds]
        if form.required is not None and draft.nullable is None:
            draft.nullable = not form.required
        said = type_of(form.type, self._dialect) if form.type else ""
        if said and draft.type and not is_same_type(said, draft.type, self._dialect):
            return self._other_type(each, draft, said)
        draft.type = draft.type or said
        return None

    def _gone(self, each: DescribedColumn) -> Finding:
        names = (column.name for column in self._table.columns.values())
        path = f"{self._table.path}.{each.name}"
        return Finding(
            "stale/column", "warning", self._table.path, f"{path} is described, and its table does not have it.",
            file=self._file, line=each.line, text=each.name, target=path, **near_name(each.name, names),
        )  # fmt: skip

    def _other_type(self, each: DescribedColumn, draft: ColumnDraft, said: str) -> Finding:
        path = f"{self._table.path}.{draft.name}"
        return Finding(
            "text/type-conflict", "warning", path, f"The text says that {draft.name} is {said}; it is {draft.type}.",
            file=self._file, line=each.line, text=each.form.type, target=path, suggestion=draft.type, certain=True,
            why="the type that its definition gives",
        )  # fmt: skip


def _texts(meta: dict[str, Words]) -> dict[str, str]:
    return {key: str(value) for key, value in meta.items()}


def described_mentions(table: TableDraft, lines: dict[str, list[str]]) -> list[Mention]:
    """Where rows come from by what is said of them."""
    found = []
    for feed in table.feeds:
        if feed.address:
            file = table.told.text_file or table.told.file
            held = lines.get(file, [])
            line = next((n for n, text in enumerate(held, start=1) if feed.address in text), table.told.line)
            origin: Origin = "link" if feed.address.startswith("api:") else "url"
            found.append(Mention(feed.address, feed.address, origin, "fed", line))
    return found
