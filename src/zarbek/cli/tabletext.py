"""Tables, columns and macros of a data model as text for a terminal."""

from __future__ import annotations

from collections.abc import Iterable

from rich.console import Console
from rich.text import Text

from zarbek.cli.interfacetext import pieces, plain
from zarbek.cli.terminal import print_indented
from zarbek.client.values.tables import Check, ColumnFacts, Data, DataWay, TableColumn, TableFacts, TableKey

_FORMS = {"table": "A table", "view": "A view", "query": "A table that a query makes",
          "outside": "A table that nothing here makes"}  # fmt: skip
_KEYS = {"primary": "primary key", "unique": "unique", "foreign": "refers to", "index": "index"}
_TOLD = {"nullable": "whether it may be empty", "key": "keys"}


def print_data(data: Data, console: Console) -> None:
    """What a data model says of a symbol, after its text."""
    if data.table is not None:
        _print_table(data.table, console)
    if data.column is not None:
        _print_column(data.column, console)
    if data.body:
        _print_code("How it is written", data.body, console)


def _print_table(table: TableFacts, console: Console) -> None:
    place, owner = ", ".join(table.place), table.owner
    told = _FORMS[table.form] + (f", in {place}" if place else "") + (f", owned by {owner}" if owner else "")
    told += f"; {', '.join(table.tags)}" if table.tags else ""
    console.print(Text(f"\n{told}."))
    if table.rows is not None:
        changed = f", last changed {table.changed}" if table.changed else ""
        seen = f", seen {table.seen_at}" if table.seen_at else ""
        console.print(Text(f"In the database: about {table.rows:,} rows{changed}{seen}.", style="dim"))
    if table.row:
        console.print(Text(f"A row: {plain(table.row)}"))
    _print_title("Columns", table.columns, console)
    for column in table.columns:
        _print_row(column, console)
    for why in table.unknown:
        print_indented(Text(f"Not known: {why}.", style="dim"), 2, console)
    _print_ways(table.came_from, table.goes_to, console)
    _print_held(table.keys, table.checks, console)
    if table.query is not None:
        _print_code("How it is made", pieces(table.query.compiled or table.query.written), console)


def _print_row(column: TableColumn, console: Console) -> None:
    facts = [column.type, *(_KEYS[kind] for kind in column.keys), _must(column.must)]
    told = ", ".join(filter(None, facts))
    mark = ("  deprecated", "yellow") if column.deprecated else ""
    print_indented(Text.assemble((column.name, "bold"), f"  {told}", mark), 2, console)
    if summary := plain(column.summary):
        print_indented(Text(summary), 6, console)
    for check in column.checks:
        _print_check(check, 6, console)
    if column.came_from:
        print_indented(Text(f"from {', '.join(way.path for way in column.came_from)}", style="dim"), 6, console)
    elif column.unknown:
        print_indented(Text(f"where it comes from is not known: {column.unknown}", style="dim"), 6, console)


def _print_column(column: ColumnFacts, console: Console) -> None:
    facts = [_must(column.must), f"{column.default} if left out" if column.default else "", ", ".join(column.tags)]
    if told := "; ".join(filter(None, facts)):
        console.print(Text(f"\n{told}"))
    if column.computed:
        console.print(Text(f"computed: {pieces(column.computed)}"))
    if column.from_catalog:
        told = ", ".join(_TOLD.get(fact, fact) for fact in column.from_catalog)
        console.print(Text(f"Only the database's catalogue told its {told}.", style="dim"))
    _print_ways(column.came_from, column.goes_to, console)
    if column.unknown:
        console.print(Text(f"Not known: {column.unknown}.", style="dim"))
    _print_held(column.keys, column.checks, console)


def _must(must: bool | None) -> str:
    return "" if must is None else "must be there" if must else "may be empty"


def _print_title(title: str, items: Iterable[object], console: Console) -> None:
    if items:
        console.print(Text(f"\n{title}", style="bold"))


def _print_ways(came_from: list[DataWay], goes_to: list[DataWay], console: Console) -> None:
    for title, ways in (("Comes from", came_from), ("Goes to", goes_to)):
        _print_title(title, ways, console)
        for way in ways:
            told = ", ".join(filter(None, (way.how, way.state, way.project)))
            print_indented(Text.assemble(way.path, (f"  {told}", "dim")), 2, console)


def _print_held(keys: list[TableKey], checks: list[Check], console: Console) -> None:
    _print_title("What holds for every row", [*keys, *checks], console)
    for check in checks:
        _print_check(check, 2, console)
    for key in keys:
        there = f" {pieces(key.target)} ({', '.join(key.there)})" if key.target else ""
        print_indented(Text(f"{', '.join(key.columns)}  {_KEYS[key.kind]}{there}"), 2, console)


def _print_check(check: Check, indent: int, console: Console) -> None:
    told = ", ".join(filter(None, (check.name, check.verdict, check.told)))
    style = "red" if check.verdict == "failed" else "dim"
    print_indented(Text.assemble("holds: " if indent > 2 else "", check.text, (f"  {told}", style)), indent, console)


def _print_code(title: str, code: str, console: Console) -> None:
    console.print(Text(f"\n{title}", style="bold"))
    print_indented(Text(code.strip("\n"), style="cyan"), 2, console)
