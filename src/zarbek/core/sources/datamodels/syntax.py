"""Statements of SQL to the parser's trees; of what it cannot read as a whole, the parts that it can."""

from __future__ import annotations

import re
from collections.abc import Iterator

import sqlglot
from sqlglot import exp
from sqlglot.errors import SqlglotError
from sqlglot.parser import logger

from zarbek.core.sources.datamodels.dialects import DIALECTS
from zarbek.core.sources.datamodels.sql_text import Statement
from zarbek.core.sources.source_text import FALLS

#: It says there, too, what it could not read; that is told by findings.
logger.setLevel("CRITICAL")
#: Longer ones hold data.
MAX_STATEMENT = 1_500_000
_MAX_TYPES = 10_000
_types: dict[tuple[object, ...], str] = {}
_DEFINES = re.compile(r"\s*(?:CREATE|ALTER)\b", re.IGNORECASE)
_STORED = re.compile(r"\bUSING\s+(?:BTREE|HASH|RTREE)\b|\b(?:FULLTEXT|SPATIAL)(?=\s+INDEX\b)", re.IGNORECASE)
#: What changes how a table is kept, and nothing that readers see of it.
_UNSEEN = re.compile(
    r"(?:CONVERT\s+TO|(?:DEFAULT\s+)?(?:CHARACTER\s+SET|CHARSET|COLLATE)|ENGINE|AUTO_INCREMENT|ROW_FORMAT|ORDER\s+BY|OWNER|"
    r"(?:WITH\s+)?(?:NO)?CHECK\s+CONSTRAINT|VALIDATE|ENABLE|DISABLE|CLUSTER|SET\s+(?:TABLESPACE|LOGGED|UNLOGGED|WITHOUT|\()|"
    r"REPLICA|(?:ATTACH|DETACH)\s+PARTITION|(?:NO\s+)?INHERIT|FORCE|IMPORT|DISCARD|ALGORITHM|LOCK|COMMENT\s*=)\b",
    re.IGNORECASE,
)
_ALTER = re.compile(
    r"ALTER\s+(?:FOREIGN\s+)?TABLE\s+(?:IF\s+EXISTS\s+)?(?:ONLY\s+)?(?:[`\"\[]?[\w$]+[`\"\]]?\s*\.\s*)*"
    r"(?:`[^`]+`|\"[^\"]+\"|\[[^\]]+\]|[\w$]+)\s*",
    re.IGNORECASE,
)


def parse(text: str, dialect: str) -> exp.Expr | None:
    """The tree of one statement; None where the parser does not know it in this dialect."""
    if len(text) > MAX_STATEMENT:
        return None
    if _DEFINES.match(text):  # How an index is stored stands in several places, of which the parser knows some.
        text = _STORED.sub(lambda found: " " * len(found[0]), text)
    try:
        found = sqlglot.parse_one(text, dialect=DIALECTS[dialect])
    except (SqlglotError, *FALLS):
        return None
    return None if isinstance(found, exp.Command) else found


def parse_definition(statement: Statement, dialect: str) -> tuple[exp.Expr | None, list[str]]:
    """The tree of a statement that makes or changes a table, and those of its parts that could not be read.

    Where a part is unknown, the others are read each by itself.
    """
    found = parse(statement.text, dialect)
    if found is not None or len(statement.text) > MAX_STATEMENT:
        return found, []
    words = statement.words
    if words[:1] == ["ALTER"] and "TABLE" in words:
        return _join_actions(statement, dialect)
    if words[:1] == ["CREATE"] and "TABLE" in words and statement.brackets is not None:
        return _join_items(statement, dialect)
    return None, []


def items_of(statement: Statement) -> list[tuple[int, int]]:
    """Where the parts within the outermost brackets begin and end, in the statement."""
    if statement.brackets is None:
        return []
    begin, end = statement.brackets
    ends = [*(comma for comma in statement.commas if begin < comma < end), end]
    starts = [begin + 1, *(comma + 1 for comma in ends[:-1])]
    return list(zip(starts, ends, strict=True))


def _join_items(statement: Statement, dialect: str) -> tuple[exp.Expr | None, list[str]]:
    begin, _ = statement.brackets or (0, 0)
    head = f"{statement.text[:begin]} ("
    whole: exp.Expr | None = None
    unread: list[str] = []
    for start, end in items_of(statement):
        item = statement.text[start:end]
        part = parse(f"{head}{item})", dialect)
        if part is None or not isinstance(part.this, exp.Schema):
            unread.append(" ".join(item.split()))
        elif whole is None:
            whole = part
        else:
            whole.this.set("expressions", [*whole.this.expressions, *part.this.expressions])
    return whole, unread


def _join_actions(statement: Statement, dialect: str) -> tuple[exp.Expr | None, list[str]]:
    head = _ALTER.match(statement.text)
    if head is None:
        return None, [" ".join(statement.text.split())]
    whole: exp.Expr | None = None
    unread: list[str] = []
    for action in apart(statement.text[head.end() :]):
        part = parse(f"{head[0]} {action}", dialect)
        if not isinstance(part, exp.Alter):
            unread += [] if _UNSEEN.match(action) else [" ".join(action.split())]
        elif whole is None:
            whole = part
        else:
            whole.set("actions", [*whole.args.get("actions", []), *part.args.get("actions", [])])
    return whole, unread


def apart(text: str) -> Iterator[str]:
    """The parts between commas that stand in no brackets and no text."""
    depth, begin, quote = 0, 0, ""
    for at, sign in enumerate(text):
        if quote:
            quote = "" if sign == quote else quote
        elif sign in "'\"`":
            quote = sign
        elif sign in "([":
            depth += 1
        elif sign in ")]":
            depth -= 1
        elif sign == "," and depth == 0:
            yield text[begin:at].strip()
            begin = at + 1
    yield text[begin:].strip()


def sql_of(node: exp.Expr | None, dialect: str) -> str:
    """A part of a tree as its dialect writes it, on one line."""
    return node.sql(dialect=DIALECTS[dialect]) if node is not None else ""


def sql_of_type(kind: exp.Expr, dialect: str) -> str:
    """The same of a column's type; models have few types, and many columns of each."""
    if not isinstance(kind, exp.DataType) or any(
        not isinstance(size, exp.DataTypeParam) or not isinstance(size.this, exp.Literal) for size in kind.expressions
    ):
        return sql_of(kind, dialect)
    rest = {k: v for k, v in kind.args.items() if v and k not in ("this", "expressions")}
    if any(isinstance(value, exp.Expr | list) for value in rest.values()):
        return sql_of(kind, dialect)
    key = (dialect, kind.this, tuple(size.name for size in kind.expressions), tuple(sorted(rest.items())))
    if key not in _types:
        if len(_types) > _MAX_TYPES:
            _types.clear()
        _types[key] = sql_of(kind, dialect)
    return _types[key]


def type_of(text: str, dialect: str) -> str:
    """A type in the form in which types are compared; as written where the parser does not know it."""
    try:
        return sql_of(exp.DataType.build(text, dialect=DIALECTS[dialect]), dialect)
    except (SqlglotError, *FALLS):
        return " ".join(text.split())
