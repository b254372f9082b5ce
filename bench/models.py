"""Data models: how fast they are gathered beside parsing alone, and how right the way of their data is."""

from __future__ import annotations

import gzip
import re
import time
from collections.abc import Iterator
from pathlib import Path
from tempfile import TemporaryDirectory

import sqlglot
import sqlglot.errors
from sqlglot.lineage import lineage

from bench.corpora import corpus
from bench.measures import Row
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.sources.datamodels.dialects import DIALECTS
from zarbek.core.sources.datamodels.lineage import QueryLineage, read_lineage
from zarbek.core.sources.datamodels.syntax import parse

TABLES, QUERIES, COLUMNS = 4_000, 1_000, 20
_TYPES = ("BIGINT UNSIGNED NOT NULL", "VARCHAR(40) NOT NULL DEFAULT 'x'", "DECIMAL(10,2) NULL", "DATETIME NOT NULL",
          "INT NULL COMMENT 'How many.'")  # fmt: skip
_WRITTEN = Path(__file__).parent / "lineage" / "queries.txt"
_KNOWN = re.compile(r"(\w+)\(([\w, ]+)\)")


def measure_models() -> Iterator[Row]:
    """The two rates, their ratio, and how many columns of the queries written down have the right sources."""
    with TemporaryDirectory(prefix="zarbek-models-") as name:
        folder = Path(name)
        _write_model(folder)
        files = sorted(folder.glob("*/*.sql"))
        begin = time.process_time()
        parsed = sum(len(sqlglot.parse(file.read_text(), dialect="mysql")) for file in files)
        alone = time.process_time() - begin
        begin = time.process_time()
        made = gather(folder, folder / "model.bundle", GatherOptions(slug="model", version="1", use_cache=False))
        whole = time.process_time() - begin
    yield ("models: statements parsed alone", f"{parsed / alone:,.0f}/s", "")
    yield ("models: the same, gathered", f"{parsed / whole:,.0f}/s", f"{made.manifest.counts['symbols']:,} elements")
    yield ("models: gathered beside parsed alone", f"{alone / whole:.2f} times", "promised: 0.5")
    yield from _right_columns()
    for name in ("tpc-h", "tpc-ds"):
        yield from _beside_another(name)


def _write_model(folder: Path) -> None:
    for part in ("definitions", "queries"):
        (folder / part).mkdir()
    for first in range(0, TABLES, 80):
        texts = (_table(number) for number in range(first, first + 80))
        (folder / "definitions" / f"{first:05}.sql").write_text("\n".join(texts))
    for number in range(QUERIES):
        left, right = number * 3 % TABLES, number * 7 % TABLES
        items = ",\n  ".join(f"a.c{c} AS a{c}" if c % 3 else f"SUM(b.c{c}) AS b{c}" for c in range(COLUMNS - 1))
        (folder / "queries" / f"q{number}.sql").write_text(
            f"/** Query {number}. */\nSELECT a.id,\n  {items}\nFROM t{left} a JOIN t{right} b ON a.id = b.c0\n"
            "WHERE a.c3 > '2026-01-01'\nGROUP BY a.id\n"
        )
    settings = 'definitions = ["definitions/*.sql"]\nqueries = ["queries/*.sql"]\n'
    (folder / "zarbek.toml").write_text(f'[data]\ndialect = "mariadb"\nplace = "model"\n{settings}')


def _table(number: int) -> str:
    columns = "".join(f"  /** Column {c}. */\n  c{c} {_TYPES[c % 5]},\n" for c in range(COLUMNS - 1))
    key = f",\n  CONSTRAINT f{number} FOREIGN KEY (c0) REFERENCES t{number - 1} (id)" if number else ""
    return (f"/** Table {number} of the model: what happened, where, and to whom. */\nCREATE TABLE t{number} (\n"
            f"  id BIGINT UNSIGNED NOT NULL AUTO_INCREMENT,\n{columns}  PRIMARY KEY (id){key}\n);\n")  # fmt: skip


def _right_columns() -> Iterator[Row]:
    queries = right = columns = invented = 0
    for dialect, sql, answer in written_queries():
        found = follow(sql, dialect)
        told = {c.name.casefold(): c for c in found.columns}
        queries += 1
        for name, wanted in answer.items():
            columns += 1
            if name == "*":  # It brings columns that nobody can tell.
                right += found.is_open and not found.columns
                continue
            made = told.get(name.casefold())
            has = (
                {("+" if how == "computed" else "") + path for path, how in made.steps.items()} if made else {"absent"}
            )
            is_right = (has == wanted) if wanted != {"?"} else bool(made and made.unknown and not made.steps)
            right += is_right
            invented += len({path.lstrip("+") for path in has} - {path.lstrip("+") for path in wanted} - {"absent"})
            if not is_right:
                print(f"  {dialect}: {' '.join(sql.split())[:90]}\n    {name}: {sorted(has)}, not {sorted(wanted)}")
    yield ("models: columns with the right sources", f"{right} of {columns}", f"{queries} queries")
    yield ("models: sources invented", str(invented), "")


def _beside_another(name: str) -> Iterator[Row]:
    """The queries of a benchmark of databases, with the sources that another program finds: the parser's own, which
    shares no line with ours and reads the whole query anew for each column."""
    folder = next(corpus("sql-queries").glob("*/tests/fixtures/optimizer")) / name
    same = columns = queries = 0
    schema = _schema_of(folder)
    for text in _queries_of(folder / f"{name}.sql"):
        queries += 1
        found = read_lineage(
            sqlglot.parse_one(text), lambda t: (t.name.lower(), list(schema.get(t.name.lower(), ())) or None)
        )
        for column in found.columns:
            other = _other_sources(column.name, text, schema)
            if other is None:  # A column without a name is none to it.
                continue
            columns += 1
            same += other == {path.lower() for path in column.steps}
    yield (f"models: {name}, columns with the sources that another finds", f"{same} of {columns}", f"{queries} queries")


def _schema_of(folder: Path) -> dict[str, dict[str, str]]:
    """Tables and their columns, from the heads of their data."""
    found = {}
    for file in sorted(folder.glob("*.csv.gz")):
        with gzip.open(file, "rt") as data:
            found[file.name.split(".")[0]] = dict.fromkeys(data.readline().strip().lower().split("|"), "TEXT")
    return found


def _queries_of(file: Path) -> Iterator[str]:
    """The queries of a file in which each is followed by what an optimiser makes of it."""
    text = re.sub(r"(?m)^#.*$", "", file.read_text(encoding="utf-8"))
    statements = [s.sql() for s in sqlglot.parse(text) if s is not None]
    yield from statements[::2]


def _other_sources(name: str, text: str, schema: dict[str, dict[str, str]]) -> set[str] | None:
    try:
        node = lineage(name, text, schema=schema)
    except sqlglot.errors.SqlglotError:
        return None
    return {
        f"{each.expression.name.lower()}.{each.name.rpartition('.')[2].lower()}" for each in node.walk()
        if isinstance(each.expression, sqlglot.exp.Table)
    }  # fmt: skip


def follow(sql: str, dialect: str) -> QueryLineage:
    """The way of the data of one query over the tables that the file names."""
    tree = parse(sql, dialect)
    assert tree is not None, f"{DIALECTS[dialect]} does not know {sql}"
    if isinstance(tree, sqlglot.exp.Create):
        tree = tree.expression
    known = dict(_KNOWN.findall(_WRITTEN.read_text(encoding="utf-8").split("\n\n")[0]))

    def find(table: sqlglot.exp.Table) -> tuple[str, list[str] | None]:
        columns = known.get(table.name.lower())
        return table.name.lower(), columns.split(", ") if columns is not None else None

    return read_lineage(tree, find, dialect)


def written_queries() -> Iterator[tuple[str, str, dict[str, set[str]]]]:
    """(dialect, query, column to what it is made from)."""
    dialect = ""
    for part in _WRITTEN.read_text(encoding="utf-8").split("\n\n")[1:]:
        lines = part.strip().split("\n")
        if lines[0].startswith("["):
            dialect = lines.pop(0).strip("[]")
        answer = {}
        for item in lines[-1].removeprefix("=").split("; "):
            name, _, sources = item.partition(":")
            answer[name.strip()] = set(sources.split())
        yield dialect, " ".join(lines[:-1]), answer
