"""Files of queries, each of which makes one table or view: as written, and as its template is filled."""

from __future__ import annotations

import re
from pathlib import PurePosixPath

from sqlglot import exp

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.datamodels.catalog import Catalog, ColumnDraft, TableDraft, Told
from zarbek.core.sources.datamodels.definitions import offset_of
from zarbek.core.sources.datamodels.placed_comments import comments_above, comments_behind
from zarbek.core.sources.datamodels.sql_text import SqlText, Statement, split_sql
from zarbek.core.sources.datamodels.syntax import MAX_STATEMENT, parse
from zarbek.core.sources.datamodels.templates import Templates, is_template

_WORD_BEFORE = re.compile(r"\S[^\n]*")


def read_query_file(text: str, file: str, catalog: Catalog, dialect: str, templates: Templates) -> TableDraft:
    """The table that a file makes: the one that it names, else one with the file's own name. Raises UnreadableText:
    a template that cannot be filled, SQL that is not known, or no query in it."""
    compiled, calls, macros = templates.fill(text) if is_template(text) else (text, [], [])
    sql = split_sql(compiled, dialect)
    statement, node = _query_of(sql, dialect)
    query = node if isinstance(node, exp.Query) else node.expression
    named = _named(node)
    parts = catalog.parts_of(named) if named is not None else [*catalog.home, PurePosixPath(file).stem]
    line = _line_in(text, compiled, sql, statement.start)
    told = Told(file, line, comments_above(sql, statement.start))
    table = TableDraft(parts, told, dialect, "query")
    table.query, table.query_start = query, statement.start
    table.query_file = file
    table.written, table.compiled = text, compiled if compiled != text else ""
    table.macros = macros
    table.calls = [(call.line, call.argument, call.table) for call in calls]
    if isinstance(node, exp.Insert | exp.Create) and isinstance(node.this, exp.Schema):
        table.named = [c.name for c in node.this.expressions if isinstance(c, exp.Identifier | exp.Column)]
    _tell_columns(table, sql, statement, text)
    return table


def _query_of(sql: SqlText, dialect: str) -> tuple[Statement, exp.Expr]:
    """The last statement that is a query, or fills a table from one."""
    for statement in reversed(sql.statements):
        words = statement.words
        if not words or words[0].strip("(") not in ("SELECT", "WITH", "INSERT", "CREATE", "VALUES", "", "REPLACE"):
            continue
        node = parse(statement.text, dialect)
        if node is None:
            line = statement.line
            if len(statement.text) > MAX_STATEMENT:
                raise UnreadableText(f"its query has more than {MAX_STATEMENT:,} characters", line)
            raise UnreadableText(f"its query, from there on, is no SQL that is known in {dialect}", line)
        if isinstance(node, exp.Query) or isinstance(node.expression, exp.Query):
            return statement, node
    raise UnreadableText("it has no query", 1)


def _named(node: exp.Expr) -> exp.Table | None:
    if isinstance(node, exp.Query):
        return None
    called = node.this.this if isinstance(node.this, exp.Schema) else node.this
    return called if isinstance(called, exp.Table) else None


def _tell_columns(table: TableDraft, sql: SqlText, statement: Statement, text: str) -> None:
    """The comments at the items of the outermost select list, for the columns that they give."""
    select = table.query
    while isinstance(select, exp.Union | exp.Except | exp.Intersect | exp.Subquery):
        select = select.left if not isinstance(select, exp.Subquery) else select.this
    if not isinstance(select, exp.Select):
        return
    for item in select.expressions:
        at = offset_of(item)
        name = item.alias_or_name
        if at is None or not name or name == "*":
            continue
        begin = statement.start + at
        line = _line_in(text, table.compiled or text, sql, begin)
        first = sql.text.rfind("\n", 0, begin) + 1
        held = _WORD_BEFORE.search(sql.text, first)
        told = Told(table.told.file, line)
        if held is not None and held.start() > statement.start:  # What stands above the query is the table's.
            told.comments = comments_above(sql, held.start())
        told.comments += comments_behind(sql, begin)
        table.columns[name.casefold()] = ColumnDraft(name, told)


def _line_in(written: str, compiled: str, sql: SqlText, at: int) -> int:
    """The line in the file of what stands at an offset of the filled template: the same where it is none, else that
    of the same words, else the same line."""
    line = sql.line_at(at)
    if written == compiled:
        return line
    words = compiled.split("\n")[line - 1].strip()
    found = next((n for n, text in enumerate(written.split("\n"), start=1) if words and text.strip() == words), 0)
    return found or min(line, written.count("\n") + 1)
