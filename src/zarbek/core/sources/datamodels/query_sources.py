"""What the FROM of a query brings, and the columns that queries give one another."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from itertools import islice
from typing import NamedTuple

from sqlglot import exp

from zarbek.core.model.datamodel import How

#: Of one query, and of the columns that one is made from.
MAX_COLUMNS, MAX_STEPS = 12_000, 2_000
#: How functions begin whose rows are made of their arguments (the manuals of the dialects, "table functions").
_OF_VALUES = ("json", "xml", "regexp_", "string_", "split_", "strtok_", "generate_", "sequence", "range", "numbers",
              "table", "array", "map_")  # fmt: skip
JOINED = (exp.Union, exp.Except, exp.Intersect)


@dataclass(slots=True)
class Made:
    """A column of a query. steps: path of a column that it is made from to what becomes of that. unknown: why what it
    is made from cannot be told, or not in full. type: where the query says it. parts: of a record, or of the records
    in a list, by name in small letters."""

    name: str
    steps: dict[str, How] = field(default_factory=dict)
    unknown: str = ""
    type: str = ""
    parts: dict[str, Made] = field(default_factory=dict)


class Rest(NamedTuple):
    """The table whose columns, none of which is known, a star brings: by its path, but for some by their names in small
    letters."""

    table: str
    but: frozenset[str] = frozenset()


class Given(NamedTuple):
    """The columns of a query; is_open: whether it may have more. rest: where all of those are from, if that is one
    table."""

    columns: list[Made]
    is_open: bool
    rest: Rest | None = None


@dataclass(slots=True)
class Source:
    """What FROM brings. table: its path, of one that a database has. columns: by name in small letters; is_open:
    whether it may have more; rest: where all of those are from, if that is one table; of: what all of those are
    computed from, of a function that gives rows."""

    name: str
    table: str
    columns: dict[str, Made]
    is_open: bool
    rest: Rest | None = None
    of: Made | None = None


def brought(sources: list[Source], shared: list[str]) -> Iterator[tuple[str, Made]]:
    """All columns of some sources, those that a join shares once; of more than anybody reads the first."""
    return islice(_brought(sources, shared), MAX_COLUMNS)


def _brought(sources: list[Source], shared: list[str]) -> Iterator[tuple[str, Made]]:
    seen: set[str] = set()
    for source in sources:
        for key, column in source.columns.items():
            if key not in shared or key not in seen:
                seen.add(key)
                yield key, column


def alias_columns(node: exp.Expr) -> list[str]:
    """The names that a source gives to its columns."""
    alias = node.args.get("alias")
    return [c.name for c in alias.args.get("columns") or ()] if isinstance(alias, exp.TableAlias) else []


def unpivoted(source: Source, pivot: exp.Pivot) -> dict[str, Made]:
    """Columns turned into rows: their values are in one, their names in another, which no value makes."""
    fields = pivot.args.get("fields") or []
    named = (c for f in fields for each in f.expressions for c in each.find_all(exp.Column))
    turned = dict.fromkeys(column.name.casefold() for column in named)
    columns = {key: column for key, column in source.columns.items() if key not in turned}
    columns |= {f.this.name.casefold(): Made(f.this.name) for f in fields}
    held = computed_from([source.columns[key] for key in turned if key in source.columns])
    columns |= {each.name.casefold(): Made(each.name, held.steps, held.unknown) for each in pivot.expressions}
    return columns


def computed_from(columns: list[Made]) -> Made:
    """What is computed from all of some columns."""
    steps: dict[str, How] = {path: "computed" for column in columns for path in column.steps}
    return Made("", steps, next((column.unknown for column in columns if column.unknown), ""))


def from_parts(node: exp.Select) -> Iterator[tuple[exp.Expr, exp.Join | None]]:
    """What FROM brings, in order, with the join that is complete with it."""
    begin = node.args.get("from_") or node.args.get("from")
    if begin is not None:
        yield from _joined_parts(begin.this)
    for join in node.args.get("joins") or ():
        yield from _joined_parts(join.this, join)
    for lateral in node.args.get("laterals") or ():
        yield lateral, None


def _joined_parts(node: exp.Expr, by: exp.Join | None = None) -> list[tuple[exp.Expr, exp.Join | None]]:
    """One of them; those of joins in brackets, and of joins behind the table that they join to, each by itself."""
    if isinstance(node, exp.Final):
        node = node.this
    parts: list[tuple[exp.Expr, exp.Join | None]]
    parts = _joined_parts(node.this) if _is_in_brackets(node) else [(node, None)]
    if isinstance(node, exp.Table | exp.Subquery):
        for join in node.args.get("joins") or ():
            parts += _joined_parts(join.this, join)
    return [*parts[:-1], (parts[-1][0], by)] if by is not None else parts


def _is_in_brackets(node: exp.Expr) -> bool:
    """Whether brackets hold a table or joins of several, and not a query."""
    inner = node.this
    if not isinstance(node, exp.Subquery):
        return False
    return isinstance(inner, exp.Table) or (
        isinstance(inner, exp.Subquery) and bool(inner.alias or inner.args.get("joins") or _is_in_brackets(inner))
    )


def inner_of(node: exp.Expr) -> exp.Expr:
    """What stands in the innermost brackets."""
    inner = node.this
    while isinstance(inner, exp.Subquery | exp.Paren):
        inner = inner.this
    return inner if isinstance(inner, exp.Expr) else node


def is_of_values(node: exp.Expr) -> bool:
    """Whether the functions of a source make rows of nothing but what is given to them."""
    return all(each.name.casefold().startswith(_OF_VALUES) for each in node.find_all(exp.Anonymous))


def leftmost(node: exp.Expr) -> exp.Expr:
    """The first part of a union."""
    while isinstance(node, JOINED):
        node = node.left
    return node


def source_of(name: str, given: Given) -> Source:
    """A query as a source of another."""
    return Source(name, "", {c.name.casefold(): c for c in given.columns}, given.is_open, given.rest)


def renamed(given: Given, names: list[str]) -> Given:
    """The same columns, the first of them under other names."""
    if not names:
        return given
    called = [*names, *(c.name for c in given.columns[len(names) :])]
    columns = [Made(name, c.steps, c.unknown, c.type, c.parts) for name, c in zip(called, given.columns, strict=False)]
    return Given(columns, given.is_open)


def joined(left: Given, right: Given) -> Given:
    """The columns of a union: those of its first part, each made from both; where one of them is not known in full,
    nobody knows which belong together."""
    if left.is_open or right.is_open or len(left.columns) != len(right.columns):
        return Given([Made(c.name, c.steps, c.unknown, c.type) for c in left.columns], left.is_open)
    pairs = zip(left.columns, right.columns, strict=True)
    return Given([Made(a.name, {**a.steps, **b.steps}, a.unknown or b.unknown, a.type) for a, b in pairs], False)


def value_columns(node: exp.Values) -> Iterator[tuple[str, list[exp.Expr]]]:
    """The columns of rows that are written out: their names, and what stands there in each row."""
    names = alias_columns(node)
    rows = [row.expressions if isinstance(row, exp.Tuple) else [row] for row in node.expressions]
    for n in range(len(rows[0]) if rows else 0):
        yield names[n] if n < len(names) else f"column{n + 1}", [row[n] for row in rows if n < len(row)]


def returned(node: exp.Expr) -> exp.Select:
    """What a statement that changes rows gives back, as a query of the tables that it names."""
    table = node.this.this if isinstance(node.this, exp.Schema) else node.this
    others = list(node.args.get("using") or ())
    others += [begin.this] if (begin := node.args.get("from_")) is not None else []
    joins = [exp.Join(this=other.copy()) for other in others if isinstance(other, exp.Table | exp.Subquery)]
    items = [item.copy() for item in node.args["returning"].expressions]
    return exp.Select(expressions=items, from_=exp.From(this=table.copy()), joins=joins)


def words_of(node: exp.Expr) -> str:
    """A part of a query in short."""
    text = " ".join(node.sql().split())
    return text if len(text) < 60 else f"{text[:57]}…"
