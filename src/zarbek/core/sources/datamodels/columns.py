"""Columns, keys and checks of a table, as its definition has them.

Sources: ISO/IEC 9075-2, section 11.3 to 11.9 (table definition, column definition, constraints).
"""

from __future__ import annotations

from collections.abc import Iterator

from sqlglot import exp

from zarbek.core.model.datamodel import Check, Key, KeyKind
from zarbek.core.sources.datamodels.catalog import Catalog, ColumnDraft, TableDraft, Told
from zarbek.core.sources.datamodels.syntax import sql_of, sql_of_type

#: Types that a database counts up, without a default that is written.
_COUNTED = {"SERIAL", "BIGSERIAL", "SMALLSERIAL"}
_UNIQUE: KeyKind = "unique"


class ColumnReader:
    """Adds what parts of a definition say to a table."""

    def __init__(self, catalog: Catalog, dialect: str) -> None:
        self._catalog, self._dialect = catalog, dialect

    def add(self, table: TableDraft, node: exp.Expr, told: Told, *, after: exp.Expr | None = None) -> None:
        """Add a column, a key or a check. told: where it stands; after: the column that a new one stands behind."""
        if isinstance(node, exp.ColumnDef):
            self.add_column(table, node, told, after)
            return
        name = ""
        parts = [node]
        if isinstance(node, exp.Constraint):
            name, parts = self._catalog.name_of(node.this), list(node.expressions)
        for part in parts:
            self._constrain(table, part, name)

    def add_column(
        self, table: TableDraft, node: exp.ColumnDef, told: Told, after: exp.Expr | None = None
    ) -> ColumnDraft:  # fmt: skip
        """A column as it is defined; one of that name before it is gone, and the new one stands where it stood."""
        column = ColumnDraft(self._catalog.name_of(node.this), told)
        kind = node.args.get("kind")
        column.type = sql_of_type(kind, self._dialect) if kind is not None else ""
        if column.type.upper() in _COUNTED:
            column.nullable = False
        for constraint in node.args.get("constraints") or ():
            self._column_constraint(table, column, constraint.args.get("kind"))
        self._place(table, column, node.args.get("position") or after)
        return column

    def _place(self, table: TableDraft, column: ColumnDraft, position: exp.Expr | None) -> None:
        key = column.name.casefold()
        if key in table.columns or position is None:
            table.columns[key] = column
            return
        behind = position.this.name.casefold() if position.this is not None else ""
        others = [(name, other) for name, other in table.columns.items()]
        at = next((n + 1 for n, (name, _) in enumerate(others) if name == behind), 0 if not behind else len(others))
        table.columns = dict([*others[:at], (key, column), *others[at:]])

    def _column_constraint(self, table: TableDraft, column: ColumnDraft, kind: exp.Expr | None) -> None:
        match kind:
            case exp.NotNullColumnConstraint():
                column.nullable = bool(kind.args.get("allow_null"))
            case exp.DefaultColumnConstraint():
                column.default = sql_of(kind.this, self._dialect) if isinstance(kind.this, exp.Expr) else ""
            case exp.AutoIncrementColumnConstraint() | exp.GeneratedAsIdentityColumnConstraint():
                column.default, column.nullable = "counted up", False
            case exp.ComputedColumnConstraint():
                held = kind.this.unnest() if isinstance(kind.this, exp.Expr) else None
                column.computed, column.computed_from = sql_of(held, self._dialect), held
            case exp.CommentColumnConstraint():
                column.told.text = kind.this.name if kind.this is not None else ""
                column.told.text_file, column.told.text_line = column.told.file, column.told.line
            case exp.PrimaryKeyColumnConstraint():
                column.nullable = False
                table.keys.append(Key("primary", [column.name]))
            case exp.UniqueColumnConstraint():
                table.keys.append(Key(_UNIQUE, [column.name]))
            case exp.CheckColumnConstraint():
                text = sql_of(kind.this, self._dialect) if isinstance(kind.this, exp.Expr) else ""
                table.checks.append(Check(text, columns=[column.name], is_enforced=True))
            case exp.Reference():
                table.keys.append(self._foreign([column.name], kind, ""))
            case _:
                return  # What readers do not ask for: collations, storage.

    def _constrain(self, table: TableDraft, node: exp.Expr, name: str) -> None:
        match node:
            case exp.PrimaryKey() | exp.PrimaryKeyColumnConstraint():
                columns = list(self._names(node.expressions))
                table.keys.append(Key("primary", columns, name))
                for column in map(table.column, columns):
                    if column is not None:
                        column.nullable = False
            case exp.ForeignKey():
                reference = node.args.get("reference")
                if reference is not None:
                    table.keys.append(self._foreign(list(self._names(node.expressions)), reference, name))
            case exp.UniqueColumnConstraint():
                table.keys.append(self._unique(node.this, name))
            case exp.IndexColumnConstraint():
                named = node.this.name if node.this is not None else ""
                table.keys.append(Key("index", list(self._names(node.expressions)), name or named))
            case exp.CheckColumnConstraint() | exp.Check():
                text = sql_of(node.this, self._dialect)
                named = dict.fromkeys(c.name for c in node.find_all(exp.Column))
                table.checks.append(Check(text, name, list(named), is_enforced=True))
            case exp.LikeProperty():
                self.copy_columns(table, node)
            case _:
                return  # Exclusions and periods: no key that readers look for.

    def _unique(self, schema: exp.Expr | None, name: str) -> Key:
        held = schema.expressions if isinstance(schema, exp.Schema) else []
        named = schema.this if isinstance(schema, exp.Schema) else None
        return Key(_UNIQUE, list(self._names(held)), name or (named.name if named else ""))

    def _foreign(self, columns: list[str], reference: exp.Expr, name: str) -> Key:
        schema = reference.this
        table = schema.this if isinstance(schema, exp.Schema) else schema
        target = ".".join(self._catalog.parts_of(table)) if isinstance(table, exp.Table) else ""
        there = list(self._names(schema.expressions)) if isinstance(schema, exp.Schema) else []
        return Key("foreign", columns, name, target, there)

    def _names(self, nodes: list[exp.Expr]) -> Iterator[str]:
        """Names of columns; an expression as it is written, in brackets."""
        for node in nodes:
            inner = node.this if isinstance(node, exp.Ordered) else node
            inner = _whole(inner)
            if isinstance(inner, str):
                yield inner
            elif isinstance(inner, exp.Identifier | exp.Column | exp.Var):
                yield self._catalog.name_of(inner if isinstance(inner, exp.Identifier) else inner.this)
            else:
                yield f"({sql_of(inner, self._dialect)})"

    def names(self, nodes: list[exp.Expr]) -> list[str]:
        """The same for an index that stands by itself."""
        return list(self._names(nodes))

    def copy_columns(self, table: TableDraft, like: exp.Expr) -> None:
        """``LIKE other``: what it is made after, it has."""
        other = self._catalog.find(self._catalog.parts_of(like.this)) if isinstance(like.this, exp.Table) else None
        for key, column in other.columns.items() if other is not None else ():
            told = Told(table.told.file, table.told.line, column.told.comments, column.told.text,
                        column.told.text_file, column.told.text_line)  # fmt: skip
            table.columns[key] = ColumnDraft(column.name, told, column.type, column.nullable, column.default,
                                             column.computed, list(column.checks), column.computed_from)  # fmt: skip


def _whole(node: exp.Expr | None) -> exp.Expr | str | None:
    """The column of which an index has a part: ``name(10)``, which the parser takes for a function where it knows one
    of that name."""
    if isinstance(node, exp.Anonymous | exp.ColumnPrefix):
        return str(node.this) if isinstance(node.this, str) else exp.to_identifier(node.name)
    size = node.this if isinstance(node, exp.Func) else None
    if isinstance(node, exp.Func) and isinstance(size, exp.Literal) and not size.is_string:
        return str(node.sql_name()).lower()
    return node
