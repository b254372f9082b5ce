"""The parts of records that queries put together and take apart, so that each part has a way of its own.

Source: ISO/IEC 9075-2, sections 4.8 (row types) and 6.7 (field reference); names of parts that have none are those of
the manuals that give them one.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from sqlglot import exp

from zarbek.core.sources.datamodels.query_sources import Made, computed_from

#: What gives a record, or one of a list of them, as it is.
_HOLDING = (exp.Bracket, exp.Paren, exp.Limit, exp.Order, exp.ArrayAgg, exp.AnyValue, exp.First, exp.Last, exp.ArgMax,
            exp.ArgMin)  # fmt: skip
Value = Callable[[exp.Expr], Made]


def record_parts(node: exp.Expr, value: Value, column: Callable[[exp.Column], Made]) -> dict[str, Made]:
    """The parts of a record, or of those in a list, by name in small letters; none of what is no record. value: what
    an expression is computed from; column: what a column is made from."""
    by: list[exp.Expr] = []
    while isinstance(node, _HOLDING):
        by += [*node.expressions] if isinstance(node, exp.Order) else []
        by += [node.expression] if isinstance(node, exp.ArgMax | exp.ArgMin) else []
        node = node.this
    if isinstance(node, exp.Column):
        found = [(part.name, part) for part in column(node).parts.values()]
    elif isinstance(node, exp.Array):
        found = _merged([record_parts(each, value, column) for each in node.expressions])
    else:
        found = [(name, value(part)) for name, part in _written_parts(node)]
    sorting = [value(each) for each in by] if found else []
    made = ((name, computed_from([part, *sorting])) for name, part in found)
    return {name.casefold(): Made(name, part.steps, part.unknown) for name, part in made}


def _written_parts(node: exp.Expr) -> Iterator[tuple[str, exp.Expr]]:
    called = node.to.expressions if isinstance(node, exp.Cast | exp.TryCast) else []
    record = node.this if called else node
    for number, part in enumerate(record.expressions if isinstance(record, exp.Struct) else ()):
        given = called[number].name if number < len(called) and isinstance(called[number], exp.ColumnDef) else ""
        own = part.this.name if isinstance(part, exp.PropertyEQ) else part.output_name
        name = given or ("" if isinstance(part, exp.Literal) else own)
        yield name or f"_field_{number + 1}", part.expression if isinstance(part, exp.PropertyEQ) else part.unalias()


def _merged(records: list[dict[str, Made]]) -> list[tuple[str, Made]]:
    """The parts of several records as those of one: the first has their names."""
    columns = zip(*(record.values() for record in records), strict=False)
    return [(parts[0].name, computed_from(list(parts))) for parts in columns]
