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

from zarbek.core.sources.datamodels.query_records import record_parts
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
    computed_from,
    from_parts,
    inner_of,
    is_of_values,
    joined,
    leftmost,
    renamed,
    returned,
    source_of,
    unpivoted,
    value_columns,
    words_of,
)
from zarbek.core.sources.source_text import FALLS


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
        self._windows: dict[str, exp.Expr] = {}

    def doubt(self, why: str) -> str:
        """Note what cannot be told; the same, for the column."""
        self.unknown.append(why)
        return why

    # Queries ------------------------------------------------------------------------------

    def query(self, node: exp.Expr, env: _Env, outer: list[list[Source]]) -> Given:
        """The columns of a query. env: the named queries that it sees; outer: the sources around it, nearest last."""
        env = self._with_named(node, env, outer)
        if values := self._named_values(node, env, outer):
            outer = [*outer, [Source("", "", values, False)]]
        if isinstance(node, JOINED):
            return joined(self.query(node.left, env, outer), self.query(node.right, env, outer))
        if isinstance(node, exp.Subquery | exp.Paren):
            return self.query(node.this, env, outer)
        if isinstance(node, exp.Values):
            return self._values(node, env, outer)
        if isinstance(node, exp.Table):
            source = self._table(node, env)
            return Given(list(source.columns.values()), source.is_open, source.rest)
        if node.args.get("returning") is not None:
            return self._select(returned(node), env, outer)
        if not isinstance(node, exp.Select):
            self.doubt(f"{type(node).__name__.upper()} is no query that can be followed")
            for table in node.find_all(exp.Table):
                self._table(table, env)
            return Given([], True)
        return self._select(node, env, outer)

    def _with_named(self, node: exp.Expr, env: _Env, outer: list[list[Source]]) -> _Env:
        """The queries that WITH names, in their order; one that names itself is seen by itself with the columns of
        its first part."""
        held = node.args.get("with_") or node.args.get("with")
        if held is None:
            return env
        env = dict(env)
        for cte in (each for each in held.expressions if not each.args.get("scalar")):
            name, names = cte.alias, alias_columns(cte)
            inner = cte.this
            if held.args.get("recursive") and isinstance(inner, JOINED):
                first = self.query(leftmost(inner), self._with_named(inner, env, outer), outer)
                env[name.casefold()] = source_of(name, renamed(first, names))
            env[name.casefold()] = source_of(name, renamed(self.query(inner, env, outer), names))
        return env

    def _named_values(self, node: exp.Expr, env: _Env, outer: list[list[Source]]) -> dict[str, Made]:
        """The values that WITH names, of dialects that let it."""
        held = node.args.get("with_") or node.args.get("with")
        found: dict[str, Made] = {}
        for cte in (each for each in held.expressions if each.args.get("scalar")) if held is not None else ():
            value = self._value(cte.this, env, [*outer, [Source("", "", found, False)]])
            found[cte.alias.casefold()] = Made(cte.alias, value.steps, value.unknown)
        return found

    def _values(self, node: exp.Values, env: _Env, around: list[list[Source]]) -> Given:
        """Rows that are written out; most are of nothing but numbers and words."""
        is_made = node.find(exp.Column, exp.Query) is not None
        made = []
        for name, parts in value_columns(node):
            column = Made(name)
            for part in parts if is_made else ():
                found = self._value(part, env, around)
                if isinstance(part, exp.Column):
                    found = self._column(part, around, {})
                column.steps |= found.steps
                column.unknown = column.unknown or found.unknown
            made.append(column)
        return Given(made, False)

    def _select(self, node: exp.Select, env: _Env, outer: list[list[Source]]) -> Given:
        before, self._windows = self._windows, {w.name.casefold(): w for w in node.args.get("windows") or ()}
        try:
            return self._selected(node, env, outer)
        finally:
            self._windows = before

    def _selected(self, node: exp.Select, env: _Env, outer: list[list[Source]]) -> Given:
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
        if node.args.get("match") is not None:
            sources[:] = [Source("", "", {}, True)]
        aliases: dict[str, Made] = {}
        made: list[Made] = []
        opened: list[Given] = []
        for item in node.expressions:
            given = self._item(item, env, around, shared, aliases)
            made += given.columns
            opened += [given] if given.is_open else []
            for column in given.columns:
                aliases.setdefault(column.name.casefold(), column)
        self._read_clauses(node, env, around, aliases)
        is_cut = len(made) >= MAX_COLUMNS
        return Given(
            made[:MAX_COLUMNS], bool(opened) or is_cut, opened[0].rest if len(opened) == 1 and not is_cut else None
        )

    def _read_clauses(
        self, node: exp.Select, env: _Env, around: list[list[Source]], aliases: dict[str, Made]
    ) -> None:  # fmt: skip
        """Note what the other parts of a query name."""
        for key in ("where", "group", "having", "qualify", "order", "windows", "distinct", "connect", "limit"):
            clause = node.args.get(key)
            for held in clause if isinstance(clause, list) else [clause]:
                if isinstance(held, exp.Expr):
                    self._value(held, env, around, aliases)

    # Sources ------------------------------------------------------------------------------

    def _source_of(self, node: exp.Expr, env: _Env, around: list[list[Source]]) -> Source:
        spread = self._spread(node, env, around)
        if spread is not None:
            return spread
        match node:
            case exp.Table() if isinstance(node.this, exp.Identifier):
                found = self._table(node, env)
            case exp.Subquery() | exp.Lateral() if isinstance(inner_of(node), exp.Query | exp.Values):
                is_lateral = isinstance(node, exp.Lateral)
                found = source_of(node.alias, self.query(inner_of(node), env, around if is_lateral else around[:-1]))
            case exp.Values():
                found = source_of(node.alias, self._values(node, env, around))
            case _:  # A function that gives rows.
                rows = self._value(node, env, around)
                if not is_of_values(node):  # It may read tables itself.
                    rows.unknown = rows.unknown or self._given_by(node)
                found = Source(node.alias, "", {}, True, of=rows)
        if names := alias_columns(node):
            columns = list(found.columns.values())
            given = [*columns, *(self._column_of(found, name) for name in names[len(columns) :])]
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
        if not isinstance(inner, exp.Unnest | exp.Explode | exp.JSONTable | exp.OpenJSON):
            return None
        names = alias_columns(node)
        if isinstance(inner, exp.JSONTable | exp.OpenJSON):
            defined = inner.find_all(exp.JSONColumnDef, exp.OpenJSONColumnDef)
            names = [c.name for c in defined if c.args.get("kind") is not None]
        if not names:
            return None
        given = inner.expressions if isinstance(inner, exp.Unnest) else [inner.this]
        values = [self._value(each, env, around) for each in given]
        made = [values[min(number, len(values) - 1)] for number in range(len(names))]
        if len(names) == len(given) == 1:
            made[0].parts = self._record(given[0], env, around, {})
        if isinstance(inner, exp.Posexplode) and len(names) > 1:
            made[0] = Made("")
        columns = renamed(Given(made, False), names).columns
        if (number := inner.args.get("offset")) and isinstance(number, exp.Identifier):
            columns.append(Made(number.name))
        return source_of(node.alias, Given(columns, False))

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
            return Given([Made(name, dict(found.steps), found.unknown, found.type, found.parts)], False)
        return self._computed(name, inner, env, around, aliases)

    def _computed(
        self, name: str, inner: exp.Expr, env: _Env, around: list[list[Source]], aliases: dict[str, Made]
    ) -> Given:
        """The columns that an expression gives; most give one."""
        if isinstance(inner, exp.Dot) and isinstance(inner.expression, exp.Star):
            return self._all_parts(inner, env, around, aliases)
        if isinstance(inner, exp.Explode) and (parts := self._record(inner.this, env, around, aliases)):
            return Given(list(parts.values()), False)
        made = self._value(inner, env, around, aliases)
        if isinstance(inner, exp.QueryTransform) and (schema := inner.args.get("schema")) is not None:
            return Given([Made(c.name, dict(made.steps), made.unknown) for c in schema.expressions], False)
        type_ = inner.to.sql() if isinstance(inner, exp.Cast | exp.TryCast) else ""
        return Given([Made(name, made.steps, made.unknown, type_, self._record(inner, env, around, aliases))], False)

    def _star(self, star: exp.Expr, env: _Env, around: list[list[Source]], shared: list[str]) -> Given:
        signs = star.this if isinstance(star, exp.Column) else star
        wanted = star.table.casefold() if isinstance(star, exp.Column) else ""
        sources = [s for s in around[-1] if not wanted or s.name.casefold() == wanted]
        if not sources and (parts := self._parts_of_star(star, env, around)):
            return Given(list(parts.values()), False)
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

    def _parts_of_star(self, star: exp.Expr, env: _Env, around: list[list[Source]]) -> dict[str, Made]:
        """The parts of the record whose star it is."""
        if not isinstance(star, exp.Column):
            return {}
        record = exp.Column(this=star.args["table"].copy(), table=star.args.get("db"))
        return self._record(record, env, around, {})

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
        if isinstance(node, exp.Window) and (named := self._windows.get(node.alias.casefold())) is not None:
            yield from self._parts(named, env, around, aliases)
        if isinstance(node, exp.Dot):
            part = self._record(node.this, env, around, aliases).get(node.expression.name.casefold())
            if part is not None:
                yield part
                return
        for child in node.iter_expressions():
            if not isinstance(child, exp.Identifier | exp.DataType):
                yield from self._parts(child, env, around, aliases)

    def _record(
        self, node: exp.Expr, env: _Env, around: list[list[Source]], aliases: dict[str, Made]
    ) -> dict[str, Made]:
        """The parts of a record, or of those in a list, by name in small letters."""
        return record_parts(
            node, lambda part: self._value(part, env, around, aliases), lambda c: self._column(c, around, aliases)
        )

    def _all_parts(self, node: exp.Dot, env: _Env, around: list[list[Source]], aliases: dict[str, Made]) -> Given:
        """What ``.*`` behind a record brings."""
        parts = self._record(node.this, env, around, aliases)
        if not parts:
            self.doubt(f"{words_of(node)} brings columns that cannot be followed")
        return Given(list(parts.values()), not parts)

    def _column(self, node: exp.Column, around: list[list[Source]], aliases: dict[str, Made]) -> Made:
        if node.table:
            return self._qualified(node, around)
        name, key = node.name, node.name.casefold()
        for depth, sources in enumerate(reversed(around)):
            alias = aliases.get(key) if depth == 0 else None
            found = self._unqualified(
                node, sources, around[: -1 - depth], is_whole=depth == 0, has_alias=alias is not None
            )
            if found is not None:
                return found
            if alias is not None:
                return alias
        known = [s for sources in around for s in sources]
        row = next((source for source in known if source.name.casefold() == key), None)
        if row is not None:
            return self._row(row)
        if len(known) == 1 and known[0].table:
            return self._noted(node, self._column_of(known[0], name), [node.this])
        return Made(name, unknown=self.doubt(f"no table of the query is known to have {name}"))

    def _row(self, source: Source) -> Made:
        """A whole row, as a value."""
        held = [*source.columns.values(), *([source.of] if source.of is not None else [])]
        made = computed_from(held)
        if source.is_open and source.of is None and not made.unknown:
            made.unknown = self.doubt(f"not all columns of {source.table or source.name} are known here")
        return Made(source.name, made.steps, made.unknown, "", source.columns)

    def _unqualified(
        self, node: exp.Column, sources: list[Source], outer: list[list[Source]], *, is_whole: bool, has_alias: bool
    ) -> Made | None:  # fmt: skip
        """A column of one of some sources; None where it can be of none of them. outer: those around the query, of
        which it may be as well. is_whole: whether nothing nearer has sources."""
        having = _having(node.name, sources)
        open_ones = [s for s in sources if s.is_open]
        if having:
            return self._noted(node, self._column_of(having[0], node.name), [node.this])
        if not open_ones or (has_alias and (self._sees_aliases or not is_whole)):
            return None
        is_outside = bool(_having(node.name, [source for each in outer for source in each]))
        if len(open_ones) == 1 and is_whole and not is_outside:  # All others are known, and do not have it.
            return self._noted(node, self._column_of(open_ones[0], node.name), [node.this])
        return self._of_several(node.name, open_ones, "what is around its query" if is_outside else "")

    def _of_several(self, name: str, sources: list[Source], outside: str) -> Made:
        of = [*(source.table or source.name for source in sources[:3]), *([outside] if outside else [])]
        return Made(name, unknown=self.doubt(f"{name} may be of {' or '.join(of)}"))

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
                part = found.parts.get(parts[parts.index(held) + 1].casefold()) if held != parts[-1] else None
                return part or Made(node.name, dict.fromkeys(found.steps, "computed"), found.unknown)
        return Made(node.name, unknown=self.doubt(f"{node.table}.{node.name}: the query names no {node.table}"))

    def _column_of(self, source: Source, name: str) -> Made:
        found = source.columns.get(name.casefold())
        if found is not None:
            return found
        if source.table:  # Nobody has seen it: the table is another's, or the column is not there.
            return Made(name, {f"{source.table}.{name}": "copied"})
        if source.rest is not None and name.casefold() not in source.rest.but:
            return Made(name, {f"{source.rest.table}.{name}": "copied"})
        if source.of is not None:
            return Made(name, dict(source.of.steps), source.of.unknown)
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


def _having(name: str, sources: list[Source]) -> list[Source]:
    """The sources that are known to have a column."""
    return [source for source in sources if name.casefold() in source.columns]


def _rest_of(sources: list[Source], but: set[str]) -> Rest | None:
    """Where the columns that a star brings, and nobody knows, are from; but for those that it says more of."""
    opened = [source for source in sources if source.is_open]
    rest = opened[0].rest if len(opened) == 1 else None
    return Rest(rest.table, rest.but | but) if rest is not None else None


def _listed(signs: exp.Expr, *names: str) -> list[exp.Expr]:
    """What stands under the first of some names of a star's settings."""
    return next((held for name in names if (held := signs.args.get(name))), [])
