"""From which columns those of a query are made, and which tables and columns it names where.

What cannot be told is said to be unknown, with its reason: a column without a table, among tables that are not all
known, may be of any of these, and ``*`` brings what nobody here knows. Source of the scopes of names: ISO/IEC 9075-2,
section 7 (query expressions) and 6.6 (identifier chains).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import NamedTuple

from sqlglot import exp

from zarbek.core.sources.datamodels.query_sources import (
    JOINED,
    MAX_COLUMNS,
    MAX_STEPS,
    Given,
    Made,
    Rest,
    Source,
    alias_columns,
    brought,
    from_parts,
    inner_of,
    joined,
    leftmost,
    renamed,
    source_of,
    unpivoted,
    values_of,
    words_of,
)
from zarbek.core.sources.source_text import FALLS

#: Columns of one query, and steps of one column.


class Named(NamedTuple):
    """A table or column where a query names it. start, end: in the statement; words: as written there."""

    start: int
    end: int
    path: str
    is_table: bool


@dataclass(slots=True)
class QueryLineage:
    """columns: of the result; is_open: whether it may have more. reads: tables, each once, in order. unknown: what
    could not be told."""

    columns: list[Made]
    is_open: bool
    reads: list[str]
    named: list[Named]
    unknown: list[str]


#: Of a table, by its parts: its path and its columns, None where those are not known.
FindColumns = Callable[[exp.Table], tuple[str, list[str] | None]]


#: Dialects in which an item of a select list sees the names of those before it (their manuals, "SELECT").
_SEEING = frozenset({"athena", "clickhouse", "databricks", "duckdb", "redshift", "snowflake", "spark", "teradata"})


def read_lineage(query: exp.Expr, find: FindColumns, dialect: str = "") -> QueryLineage:
    """The way of the data through one query."""
    reader = _Reader(find, sees_aliases=dialect in _SEEING)
    try:
        given = reader.query(query, {}, [])
    except FALLS as error:
        reader.doubt(f"its query is too involved to be followed ({type(error).__name__})")
        given = Given([], True)
    reads = list(dict.fromkeys(named.path for named in reader.named if named.is_table))
    return QueryLineage(
        given.columns[:MAX_COLUMNS],
        given.is_open,
        reads,
        sorted(set(reader.named)),
        list(dict.fromkeys(reader.unknown)),
    )


_Env = dict[str, "Source"]


class _Reader:
    def __init__(self, find: FindColumns, *, sees_aliases: bool) -> None:
        self._find, self._sees_aliases = find, sees_aliases
        self.named: list[Named] = []
        self.unknown: list[str] = []

    def doubt(self, why: str) -> str:
        """Note what cannot be told; the same, for the column."""
        self.unknown.append(why)
        return why

    # Queries ------------------------------------------------------------------------------

    def query(self, node: exp.Expr, env: _Env, outer: list[list[Source]]) -> Given:
        """The columns of a query. env: the named queries that it sees; outer: the sources around it, nearest last."""
        env = self._with_named(node, env, outer)
        if isinstance(node, JOINED):
            return joined(self.query(node.left, env, outer), self.query(node.right, env, outer))
        if isinstance(node, exp.Subquery | exp.Paren):
            return self.query(node.this, env, outer)
        if isinstance(node, exp.Values):
            return Given(values_of(node), False)
        if isinstance(node, exp.Table):
            source = self._table(node, env)
            return Given(list(source.columns.values()), source.is_open, source.rest)
        if not isinstance(node, exp.Select):
            self.doubt(f"{type(node).__name__.upper()} is no query that can be followed")
            return Given([], True)
        return self._select(node, env, outer)

    def _with_named(self, node: exp.Expr, env: _Env, outer: list[list[Source]]) -> _Env:
        """The queries that WITH names, in their order; one that names itself is seen by itself with the columns of
        its first part."""
        held = node.args.get("with_") or node.args.get("with")
        if held is None:
            return env
        env = dict(env)
        for cte in held.expressions:
            name, names = cte.alias, alias_columns(cte)
            inner = cte.this
            if held.args.get("recursive") and isinstance(inner, JOINED):
                first = self.query(leftmost(inner), self._with_named(inner, env, outer), outer)
                env[name.casefold()] = source_of(name, renamed(first, names))
            env[name.casefold()] = source_of(name, renamed(self.query(inner, env, outer), names))
        return env

    def _select(self, node: exp.Select, env: _Env, outer: list[list[Source]]) -> Given:
        sources: list[Source] = []
        around = [*outer, sources]
        shared: list[str] = []
        for part, join in from_parts(node):
            found = self._source_of(part, env, around)
            if join is not None:
                shared += self._shared(join, sources, found)
            sources.append(found)
            if join is not None and join.args.get("on") is not None:
                self._value(join.args["on"], env, around)
        aliases: dict[str, Made] = {}
        made: list[Made] = []
        opened: list[Given] = []
        for item in node.expressions:
            given = self._item(item, env, around, shared, aliases)
            made += given.columns
            opened += [given] if given.is_open else []
            for column in given.columns:
                aliases.setdefault(column.name.casefold(), column)
        for key in ("where", "group", "having", "qualify", "order", "windows", "distinct", "connect", "limit"):
            clause = node.args.get(key)
            for held in clause if isinstance(clause, list) else [clause]:
                if isinstance(held, exp.Expr):
                    self._value(held, env, around, aliases)
        is_cut = len(made) >= MAX_COLUMNS
        return Given(
            made[:MAX_COLUMNS], bool(opened) or is_cut, opened[0].rest if len(opened) == 1 and not is_cut else None
        )

    # Sources ------------------------------------------------------------------------------

    def _source_of(self, node: exp.Expr, env: _Env, around: list[list[Source]]) -> Source:
        spread = self._spread(node, env, around)
        if spread is not None:
            return spread
        match node:
            case exp.Table() if isinstance(node.this, exp.Identifier):
                found = self._table(node, env)
            case exp.Subquery() | exp.Lateral() if isinstance(inner_of(node), exp.Query):
                is_lateral = isinstance(node, exp.Lateral)
                found = source_of(node.alias, self.query(inner_of(node), env, around if is_lateral else around[:-1]))
            case exp.Values():
                found = source_of(node.alias, Given(values_of(node), False))
            case _:  # A function that gives rows.
                self._value(node, env, around)
                found = Source(node.alias, "", {}, True)
        if names := alias_columns(node):
            columns = list(found.columns.values())
            given = [*columns, *(Made(name, unknown=self._given_by(node)) for name in names[len(columns) :])]
            found = source_of(found.name, renamed(Given(given, False), names))
        for pivot in node.args.get("pivots") or ():
            found = self._pivoted(found, pivot)
        return found

    def _pivoted(self, source: Source, pivot: exp.Pivot) -> Source:
        """Rows turned into columns: those that are computed from what is summed up, beside those that nothing turns."""
        name = pivot.alias or source.name
        made = pivot.args.get("columns") or ()
        if pivot.args.get("unpivot") and not source.is_open:
            return Source(name, "", unpivoted(source, pivot), False)
        if source.is_open or not made:
            self.doubt(f"{words_of(pivot)} gives columns that cannot be followed")
            return Source(name, "", {}, True)
        inside = [[Source("", "", source.columns, False)]]
        summed = [self._value(each, {}, inside) for each in pivot.expressions]
        turning = [*(field.this for field in pivot.args.get("fields") or ()), *pivot.expressions]
        turned = {c.name.casefold() for each in turning for c in each.find_all(exp.Column)}
        columns = {key: column for key, column in source.columns.items() if key not in turned}
        for number, identifier in enumerate(made):
            found = summed[number % len(summed)]
            columns[identifier.name.casefold()] = Made(identifier.name, found.steps, found.unknown)
        return Source(name, "", columns, False)

    def _spread(self, node: exp.Expr, env: _Env, around: list[list[Source]]) -> Source | None:
        """What turns the parts of a value into rows: all of its columns are computed from that, but for the number of
        a row. None for anything else."""
        inner = node.this if isinstance(node, exp.Lateral | exp.Table) else node
        if not isinstance(inner, exp.Unnest | exp.Explode | exp.JSONTable):
            return None
        names = alias_columns(node)
        if isinstance(inner, exp.JSONTable):
            names = [c.name for c in inner.find_all(exp.JSONColumnDef) if c.args.get("kind") is not None]
        if not names:
            return None
        given = inner.expressions if isinstance(inner, exp.Unnest) else [inner.this]
        values = [self._value(each, env, around) for each in given]
        made = [values[min(number, len(values) - 1)] for number in range(len(names))]
        if isinstance(inner, exp.Posexplode) and len(names) > 1:
            made[0] = Made("")
        columns = {n.casefold(): Made(n, dict(m.steps), m.unknown) for n, m in zip(names, made, strict=True)}
        if (number := inner.args.get("offset")) and isinstance(number, exp.Identifier):
            columns[number.name.casefold()] = Made(number.name)
        return Source(node.alias, "", columns, False)

    def _given_by(self, node: exp.Expr) -> str:
        return self.doubt(f"{words_of(node)} gives it, which cannot be followed")

    def _table(self, node: exp.Table, env: _Env) -> Source:
        known = env.get(node.name.casefold()) if not node.args.get("db") else None
        if known is not None:
            return Source(node.alias_or_name, "", known.columns, known.is_open, known.rest)
        path, names = self._find(node)
        self._note([p for p in (node.args.get("catalog"), node.args.get("db"), node.this) if p], path, is_table=True)
        columns = {n.casefold(): Made(n, {f"{path}.{n}": "copied"}) for n in names or ()}
        return Source(node.alias_or_name, path, columns, names is None, Rest(path) if names is None else None)

    def _shared(self, join: exp.Join, sources: list[Source], found: Source) -> list[str]:
        """The columns that a join gives once: those of USING, of a natural one all that both sides have."""
        used = join.args.get("using") or ()
        for identifier in used:
            for source in [*sources, found]:
                self._column_of(source, identifier.name)
        if str(join.args.get("method") or "").upper() == "NATURAL" and sources:
            return [name for name in found.columns if any(name in source.columns for source in sources)]
        return [identifier.name.casefold() for identifier in used]

    # Columns ------------------------------------------------------------------------------

    def _item(
        self, item: exp.Expr, env: _Env, around: list[list[Source]], shared: list[str], aliases: dict[str, Made]
    ) -> Given:
        """The columns that one item of a select list gives."""
        inner = item.this if isinstance(item, exp.Alias) else item
        if isinstance(inner, exp.Star) or (isinstance(inner, exp.Column) and isinstance(inner.this, exp.Star)):
            return self._star(inner, env, around, shared)
        if isinstance(item, exp.Aliases):
            return Given([Made(c.name, unknown=self._given_by(item.this)) for c in item.expressions], False)
        while isinstance(inner, exp.Paren):
            inner = inner.this
        name = item.alias_or_name or words_of(inner)
        if isinstance(inner, exp.Column):
            found = self._column(inner, around, aliases)
            return Given([Made(name, dict(found.steps), found.unknown, found.type)], False)
        made = self._value(inner, env, around, aliases)
        type_ = inner.to.sql() if isinstance(inner, exp.Cast | exp.TryCast) else ""
        return Given([Made(name, made.steps, made.unknown, type_)], False)

    def _star(self, star: exp.Expr, env: _Env, around: list[list[Source]], shared: list[str]) -> Given:
        signs = star.this if isinstance(star, exp.Column) else star
        wanted = star.table.casefold() if isinstance(star, exp.Column) else ""
        sources = [s for s in around[-1] if not wanted or s.name.casefold() == wanted]
        is_open = self._doubt_star(sources, wanted)
        without = {e.name.casefold() for e in _listed(signs, "except_", "except")}
        instead = {e.alias.casefold(): e.this for e in _listed(signs, "replace")}
        called = {e.this.name.casefold(): e.alias for e in _listed(signs, "rename")}
        made: list[Made] = []
        for key, column in brought(sources, shared if not wanted else []):
            if key in instead:
                found = self._value(instead[key], env, around)
                made.append(Made(column.name, found.steps, found.unknown))
            elif key not in without:
                made.append(Made(called.get(key, column.name), dict(column.steps), column.unknown, column.type))
        return Given(made, is_open, _rest_of(sources, {*without, *instead, *called}))

    def _doubt_star(self, sources: list[Source], wanted: str) -> bool:
        """Whether a star may bring what nobody here knows, which is noted."""
        unknown = next((s for s in sources if s.is_open), None)
        if sources and unknown is None:
            return False
        whose = unknown.table or unknown.name if unknown is not None else wanted
        self.doubt(f"* brings all columns of {whose or 'a source'}, which are not known here")
        return True

    def _value(
        self, node: exp.Expr, env: _Env, around: list[list[Source]], aliases: dict[str, Made] | None = None
    ) -> Made:
        """What an expression is computed from."""
        made = Made("")
        for found in self._parts(node, env, around, aliases or {}):
            for path in found.steps:
                if len(made.steps) < MAX_STEPS:
                    made.steps[path] = "computed"
            made.unknown = made.unknown or found.unknown
        return made

    def _parts(self, node: exp.Expr, env: _Env, around: list[list[Source]], aliases: dict[str, Made]) -> Iterator[Made]:
        if isinstance(node, exp.Column):
            if not isinstance(node.this, exp.Star):
                yield self._column(node, around, aliases)
            return
        if isinstance(node, exp.Query):
            yield from self.query(node, env, around).columns
            return
        for child in node.iter_expressions():
            if not isinstance(child, exp.Identifier | exp.DataType):
                yield from self._parts(child, env, around, aliases)

    def _column(self, node: exp.Column, around: list[list[Source]], aliases: dict[str, Made]) -> Made:
        if node.table:
            return self._qualified(node, around)
        name, key = node.name, node.name.casefold()
        for depth, sources in enumerate(reversed(around)):
            alias = aliases.get(key) if depth == 0 else None
            found = self._unqualified(
                node, sources, is_whole=depth == 0 or len(around) == 1, has_alias=alias is not None
            )
            if found is not None:
                return found
            if alias is not None:
                return alias
        known = [s for sources in around for s in sources]
        if len(known) == 1 and known[0].table:
            return self._noted(node, self._column_of(known[0], name), [node.this])
        return Made(name, unknown=self.doubt(f"no table of the query is known to have {name}"))

    def _unqualified(
        self, node: exp.Column, sources: list[Source], *, is_whole: bool, has_alias: bool
    ) -> Made | None:  # fmt: skip
        """A column of one of some sources; None where it can be of none of them. is_whole: whether these are all that
        it may be of."""
        having = [s for s in sources if node.name.casefold() in s.columns]
        open_ones = [s for s in sources if s.is_open]
        if having:
            return self._noted(node, self._column_of(having[0], node.name), [node.this])
        if not open_ones or (has_alias and (self._sees_aliases or not is_whole)):
            return None
        if len(open_ones) == 1 and is_whole:  # All others are known, and do not have it.
            return self._noted(node, self._column_of(open_ones[0], node.name), [node.this])
        of = " or ".join(s.table or s.name for s in open_ones[:3])
        return Made(node.name, unknown=self.doubt(f"{node.name} may be of {of}"))

    def _qualified(self, node: exp.Column, around: list[list[Source]]) -> Made:
        table = node.table.casefold()
        for sources in reversed(around):
            for source in sources:
                if source.name.casefold() == table:
                    return self._noted(node, self._column_of(source, node.name), [node.args["table"], node.this])
        return self._part(node, around)

    def _part(self, node: exp.Column, around: list[list[Source]]) -> Made:
        """What is deeper in a column that holds a record: by its first name, or behind that of its table."""
        parts = [node.args[key].name for key in ("catalog", "db", "table", "this") if node.args.get(key)]
        for source in (source for sources in reversed(around) for source in sources):
            held = parts[1] if source.name.casefold() == parts[0].casefold() and len(parts) > 2 else parts[0]
            if held.casefold() in source.columns or (held != parts[0] and source.is_open):
                found = self._column_of(source, held)
                return Made(node.name, dict.fromkeys(found.steps, "computed"), found.unknown)
        return Made(node.name, unknown=self.doubt(f"{node.table}.{node.name}: the query names no {node.table}"))

    def _column_of(self, source: Source, name: str) -> Made:
        found = source.columns.get(name.casefold())
        if found is not None:
            return found
        if source.table:  # Nobody has seen it: the table is another's, or the column is not there.
            return Made(name, {f"{source.table}.{name}": "copied"})
        if source.rest is not None and name.casefold() not in source.rest.but:
            return Made(name, {f"{source.rest.table}.{name}": "copied"})
        return Made(name, unknown=self.doubt(f"{name} of {source.name or 'a source'} cannot be followed"))

    def _noted(self, node: exp.Column, found: Made, parts: list[exp.Expr]) -> Made:
        copied = [path for path, how in found.steps.items() if how == "copied"]
        if len(copied) == 1 and copied[0].rpartition(".")[2].casefold() == node.name.casefold():
            self._note(parts, copied[0], is_table=False)
        return found

    def _note(self, parts: Iterable[exp.Expr], path: str, *, is_table: bool) -> None:
        places = [part.meta for part in parts if isinstance(part, exp.Expr) and "start" in part.meta]
        if places:
            self.named.append(Named(places[0]["start"], places[-1]["end"] + 1, path, is_table))


def _rest_of(sources: list[Source], but: set[str]) -> Rest | None:
    """Where the columns that a star brings, and nobody knows, are from; but for those that it says more of."""
    opened = [source for source in sources if source.is_open]
    rest = opened[0].rest if len(opened) == 1 else None
    return Rest(rest.table, rest.but | but) if rest is not None else None


def _listed(signs: exp.Expr, *names: str) -> list[exp.Expr]:
    """What stands under the first of some names of a star's settings."""
    return next((held for name in names if (held := signs.args.get(name))), [])
