"""A data model as a whole: its definitions in order, its queries, its descriptions, and the way of its data."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial

import msgspec
from sqlglot import exp

from zarbek.core.errors import UnreadableText
from zarbek.core.model.bundle import Scope
from zarbek.core.model.database_catalog import DatabaseCatalog
from zarbek.core.model.datamodel import OPEN, Column, DataModel, Query, Step, Table
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.datamodels.blocks import Block
from zarbek.core.sources.datamodels.catalog import Catalog, ColumnDraft, TableDraft, Told
from zarbek.core.sources.datamodels.check_results import Results, read_results
from zarbek.core.sources.datamodels.database_facts import DatabaseFacts
from zarbek.core.sources.datamodels.definitions import DefinitionReader
from zarbek.core.sources.datamodels.descriptions import Descriptions, read_described, read_descriptions
from zarbek.core.sources.datamodels.dialects import folds_lower
from zarbek.core.sources.datamodels.discovery import ModelFiles
from zarbek.core.sources.datamodels.lineage import QueryLineage, read_lineage
from zarbek.core.sources.datamodels.query_files import read_query_file
from zarbek.core.sources.datamodels.query_sources import Made
from zarbek.core.sources.datamodels.settings import DataSettings, DescriptionPaths
from zarbek.core.sources.datamodels.symbols import (
    TextReader,
    path_of_macro,
    symbol_of_block,
    symbol_of_macro,
    symbol_of_routine,
    symbols_of_places,
    symbols_of_table,
)
from zarbek.core.sources.datamodels.table_facts import describe, described_mentions, parts_of
from zarbek.core.sources.datamodels.templates import MacroText, Templates
from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.source_text import decode_text

#: The way of the data of a table that no query makes.
_NO_WAY = QueryLineage([], False, [], [], [])


def read_model(source: SourceFile, read: Callable[[str], bytes | None]) -> SourceReading:
    """The symbols of a data model. read: files of the source. A file that cannot be read is a finding."""
    return _ModelReader(source, read).read()


class _ModelReader:
    def __init__(self, source: SourceFile, read: Callable[[str], bytes | None]) -> None:
        self._read, self._source = read, source
        self._files = msgspec.json.decode(source.options["files"][0], type=ModelFiles)
        self._settings = msgspec.json.decode(source.options["settings"][0], type=DataSettings)
        self._dialect = source.options["dialect"][0]
        home = source.module.split(".")
        self._catalog = Catalog(home, folds=folds_lower(self._dialect))
        self._templates = Templates(self._settings.calls, self._settings.values)
        self._lines: dict[str, list[str]] = {}
        self._blocks: dict[str, Block] = {}
        self._findings: list[Finding] = []
        self._lineage: dict[str, QueryLineage] = {}
        self._followed: set[str] = set()
        self._outside: set[str] = set()
        self._macros: dict[str, str] = {}

    def read(self) -> SourceReading:
        """All of it."""
        definitions = DefinitionReader(self._catalog, self._dialect)
        self._each(self._files.definitions, definitions.read)
        self._findings += definitions.findings
        macros: list[tuple[MacroText, str]] = []

        def add_macros(text: str, file: str) -> None:
            macros.extend((macro, file) for macro in self._templates.add_macros(text))

        self._each(self._files.macros, add_macros)
        self._macros = {macro.name: path_of_macro(macro, self._source.module) for macro, _ in macros}
        for file, place in self._files.queries.items():
            self._each([file], partial(self._add_query, place))
        facts = self._database_facts()
        if facts is not None:
            facts.add_tables()
        described = self._descriptions()
        self._describe(described, is_new=True)
        for table in list(self._catalog):
            self._follow(table)
        self._describe(described, is_new=False)
        if facts is not None:
            self._findings += facts.fill(self._is_open)
        self._give_results()
        return self._reading(macros)

    def _give_results(self) -> None:
        results = Results(self._catalog)
        self._each(
            self._files.results, lambda text, file: self._findings.extend(results.add(read_results(text, file), file))
        )

    def _database_facts(self) -> DatabaseFacts | None:
        given = self._source.options.get("catalog")
        if not given:
            return None
        facts = msgspec.json.decode(given[0], type=DatabaseCatalog)
        return DatabaseFacts(facts, self._catalog, self._dialect)

    def _is_open(self, path: str) -> bool:
        return path in self._lineage and self._lineage[path].is_open

    def _each(self, files: Iterable[str], take: Callable[[str, str], None]) -> None:
        """Read files, each by itself: one that cannot be read is left out, and said to be."""
        for file in files:
            try:
                text = decode_text(self._read(file) or b"")
                self._lines[file] = text.split("\n")
                take(text, file)
            except UnreadableText as error:
                self._findings.append(Finding(
                    "text/unreadable", "warning", file, f"The file was left out: {error}.", file=file, line=error.line,
                ))  # fmt: skip

    def _add_query(self, place: str, text: str, file: str) -> None:
        home = self._catalog.home
        self._catalog.home = place.split(".") if place else home
        try:
            table = read_query_file(text, file, self._catalog, self._dialect, self._templates)
        finally:
            self._catalog.home = home
        known = self._catalog.find(table.parts)
        if known is not None and known.query is None:  # Declared elsewhere, filled here.
            known.query, known.query_start, known.named = table.query, table.query_start, table.named
            known.query_file, known.query_line = table.query_file, table.query_line
            known.written, known.compiled, known.calls = table.written, table.compiled, table.calls
            known.macros = table.macros
            return
        self._catalog.add(table)

    # Descriptions -------------------------------------------------------------------------

    def _descriptions(self) -> list[Descriptions]:
        found: list[Descriptions] = []
        self._each(self._files.models, lambda text, file: found.append(read_descriptions(Document(file, text))))
        for file, pattern in self._files.described.items():
            paths = self._settings.descriptions[pattern]
            self._each([file], partial(_read_described, found, paths))
        for described in found:
            self._blocks |= {n: Block(text, described.file, line) for n, (text, line) in described.blocks.items()}
        return found

    def _describe(self, found: list[Descriptions], *, is_new: bool) -> None:
        """Take in what descriptions say: first of tables that no SQL makes, for queries read them; then of the others,
        whose columns are known by then."""
        is_declared = bool(self._files.definitions or self._files.queries)
        for file, tables, _ in found:
            known = [self._catalog.find(parts_of(self._catalog, each)) is not None for each in tables]
            chosen = [each for each, is_known in zip(tables, known, strict=True) if is_known is not is_new]
            chosen = [each for each in chosen if is_new or each.name not in self._outside]
            if is_new:
                self._outside |= {each.name for each in chosen}
            self._findings += describe(
                self._catalog, chosen, file, self._dialect, is_declared=is_declared,
                open_tables={path for path in self._lineage if self._is_open(path)},
            )  # fmt: skip

    # The way of the data ------------------------------------------------------------------

    def _follow(self, table: TableDraft) -> QueryLineage | None:
        """The way of the data into a table, its columns completed by what its query gives."""
        if table.query is None or table.path in self._followed:
            return self._lineage.get(table.path)
        self._followed.add(table.path)  # A circle of views ends here.
        home, self._catalog.home = self._catalog.home, table.parts[:-1]
        try:
            found = read_lineage(table.query, self._columns_of, self._dialect)
        finally:
            self._catalog.home = home
        self._lineage[table.path] = found
        self._complete(table, found)
        return found

    def _columns_of(self, called: exp.Table) -> tuple[str, list[str] | None]:
        parts = self._catalog.parts_of(called)
        table = self._catalog.find(parts)
        if table is None and len(parts) == len(self._catalog.home) + 1 and not called.args.get("db"):
            home = [*self._source.module.split("."), parts[-1]]  # As the project's own place has it.
            table = self._catalog.find(home)
            parts = home if table is not None else parts
        if table is None:
            return ".".join(parts), None
        if table.query is not None:
            inner = self._follow(table)
            if inner is None or (inner.is_open and table.form != "table"):
                return table.path, None
        if not table.columns:
            return table.path, None
        return table.path, [column.name for column in table.columns.values()]

    def _complete(self, table: TableDraft, found: QueryLineage) -> None:
        """Columns as the query gives them, in its order, with what is told of them."""
        names = [*table.named, *(c.name for c in found.columns[len(table.named) :])]
        made = [Made(n, c.steps, c.unknown, c.type) for n, c in zip(names, found.columns, strict=False)]
        found.columns = made
        if table.form == "table":  # Its definition says what it has.
            return
        known, table.columns = table.columns, {}
        for column in made:
            key = column.name.casefold()
            draft = known.get(key) or ColumnDraft(column.name, Told(table.told.file, table.told.line))
            draft.type = draft.type or column.type or self._type_of(column)
            table.columns[key] = draft
        if found.is_open:  # What is told of may be among those that are not known.
            table.columns |= {key: column for key, column in known.items() if key not in table.columns}

    def _type_of(self, column: Made) -> str:
        """That of the one column of which it has the values."""
        paths = [path for path, how in column.steps.items() if how == "copied"]
        if len(paths) != 1 or len(column.steps) != 1:
            return ""
        table, _, name = paths[0].rpartition(".")
        source = self._catalog.find(table.split("."))
        found = source.column(name) if source is not None else None
        return found.type if found is not None else ""

    # Symbols ------------------------------------------------------------------------------

    def _reading(self, macros: list[tuple[MacroText, str]]) -> SourceReading:
        home = self._source.module
        texts = TextReader(home, self._blocks, self._lines)
        tables = sorted(self._catalog, key=lambda t: t.path)
        symbols: list[Symbol] = []
        places = [home, *(".".join(t.parts[:-1]) for t in tables)]
        symbols += symbols_of_places(places)
        for table in tables:
            symbols += self._of_table(table, texts)
        symbols += [symbol_of_routine(r, texts) for r in self._catalog.routines.values()]
        symbols += [symbol_of_macro(m, file, home, texts, self._lines[file]) for m, file in macros]
        symbols += [symbol_of_block(name, block, texts) for name, block in self._blocks.items()]
        used = {m.name for s in symbols for m in s.mentions if m.origin == "block"}
        self._findings += [
            Finding("text/unused-block", "note", s.path, f"Nothing uses the block {s.name[1:-1]}.", file=s.file,
                    line=s.line, text=s.name[1:-1])
            for s in symbols if s.kind == "block" and f"api:{s.path}" not in used
        ]  # fmt: skip
        files = sorted({self._source.file, *self._lines})
        parts = [ModulePart(Scope(file, home, language="sql")) for file in files]
        return SourceReading(symbols, parts, [*self._findings, *texts.findings])

    def _of_table(self, table: TableDraft, texts: TextReader) -> Iterable[Symbol]:
        found = self._lineage.get(table.path, _NO_WAY)
        made = {c.name.casefold(): c for c in found.columns}
        query = self._query_of(table)
        facts = Table(
            self._dialect, table.form, table.row, table.keys, table.checks, table.owner, table.tags, table.meta, query,
            found.reads, table.feeds, found.unknown, [c.name for c in table.columns.values()], table.rows,
            table.changed, table.from_catalog,
        )  # fmt: skip
        columns = {key: _column(table, column, made.get(key)) for key, column in table.columns.items()}
        targets = dict.fromkeys(key.target for key in table.keys if key.kind == "foreign" and key.target)
        mentions = [
            *described_mentions(table, self._lines), *self._query_mentions(table, found),
            *(Mention(path, path, "data", "key", table.told.line, role="table") for path in targets),
        ]  # fmt: skip
        own = {key: self._column_mentions(table, column, columns[key]) for key, column in table.columns.items()}
        is_open = not table.columns or (found.is_open and table.form != "table")
        for symbol in symbols_of_table(table, DataModel(table=facts), columns, texts, mentions, own):
            yield msgspec.structs.replace(symbol, flags=[OPEN]) if symbol.path == table.path and is_open else symbol

    def _query_of(self, table: TableDraft) -> Query | None:
        if table.query is None:
            return None
        file = table.query_file if table.query_file != table.told.file else ""
        return Query(table.written, table.compiled, table.query_line, file)

    def _query_mentions(self, table: TableDraft, found: QueryLineage) -> list[Mention]:
        """What the query names, each once a line."""
        held = self._lines.get(table.query_file)
        text = (table.compiled or ("\n".join(held) if held else table.written)) if found.named else ""
        called = {path: (line, argument) for line, argument, path in table.calls}
        mentions: dict[tuple[str, int], Mention] = {}
        for named in found.named:
            begin, end = table.query_start + named.start, table.query_start + named.end
            line = text.count("\n", 0, begin) + 1
            column, words = begin - text.rfind("\n", 0, begin), text[begin:end]
            if table.compiled:
                line, words = called.get(named.path, (self._written_line(table, words), words))
                column = 0
            role = "table" if named.is_table else "column"
            mention = Mention(words, named.path, "data", "query", line, column, role)
            mentions.setdefault((named.path, line), mention)
        called_macros = dict.fromkeys((line, name) for line, name in table.macros)
        return [
            *mentions.values(),
            *(
                Mention(name, f"api:{self._macros[name]}", "code", "query", line, role="macro")
                for line, name in called_macros
            ),
        ]

    def _written_line(self, table: TableDraft, words: str) -> int:
        return next((n for n, line in enumerate(table.written.split("\n"), start=1) if words in line), 1)

    def _column_mentions(self, table: TableDraft, draft: ColumnDraft, column: Column) -> list[Mention]:
        """Where a column comes from, and what it refers to as a key."""
        line, found = draft.told.line, []
        derived = column.steps[: len(column.steps) - len(draft.feeds)]
        for step in derived:
            found.append(Mention(step.path, step.path, "data", "from", line))
        for written in draft.feeds:
            found.append(Mention(written, written, "link" if written.startswith("api:") else "data", "fed", line))
        for key in table.keys:
            if key.kind == "foreign" and draft.name in key.columns:
                number = key.columns.index(draft.name)
                there = key.target_columns[number] if number < len(key.target_columns) else ""
                name = f"{key.target}.{there}" if there else key.target
                found.append(Mention(name, name, "data", "key", line))
                if there:
                    found.append(Mention(key.target, key.target, "data", "key", line, role="table"))
        return list(dict.fromkeys(found))


def _read_described(found: list[Descriptions], paths: DescriptionPaths, text: str, file: str) -> None:
    found.append(read_described(Document(file, text), paths))


def _column(table: TableDraft, draft: ColumnDraft, made: Made | None) -> Column:
    steps = [Step(path, how) for path, how in made.steps.items()] if made is not None else []
    if draft.computed_from is not None:
        named = {c.name.casefold(): None for c in draft.computed_from.find_all(exp.Column)}
        own = [table.columns[name].name for name in named if name in table.columns]
        steps += [Step(f"{table.path}.{name}", "computed") for name in own]
    steps += [Step(path) for path in draft.feeds]
    return Column(draft.nullable, draft.default, draft.computed, draft.checks, draft.tags, draft.meta, steps,
                  made.unknown if made is not None else "", draft.from_catalog)  # fmt: skip
