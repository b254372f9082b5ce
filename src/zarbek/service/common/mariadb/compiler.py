"""Django's compilers for MariaDB; that of inserts asks a column once, not each of its values."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from django.db.backends.mysql.compiler import (
    SQLAggregateCompiler,
    SQLCompiler,
    SQLDeleteCompiler,
    SQLUpdateCompiler,
)
from django.db.backends.mysql.compiler import SQLInsertCompiler as MysqlInsertCompiler

__all__ = ["SQLAggregateCompiler", "SQLCompiler", "SQLDeleteCompiler", "SQLInsertCompiler", "SQLUpdateCompiler"]


class SQLInsertCompiler(MysqlInsertCompiler):
    """Writes inserts of many rows with less work a row."""

    def assemble_as_sql(
        self, fields: Sequence[Any], value_rows: Sequence[Sequence[Any]]
    ) -> tuple[Sequence[Sequence[str]], Sequence[Sequence[Any]]]:
        """As Django's, which builds four generators a row: most of the time of storing a release was here."""
        is_plain = all(field is not None for field in fields)
        if not is_plain or any(hasattr(value, "as_sql") for row in value_rows for value in row):
            return super().assemble_as_sql(fields, value_rows)
        columns = []
        for field, values in zip(fields, zip(*value_rows, strict=True), strict=True):
            placeholder = getattr(field, "get_placeholder", None)
            if placeholder is None:
                columns.append(["%s"] * len(values))
            else:
                columns.append([placeholder(value, self, self.connection) for value in values])
        return list(zip(*columns, strict=True)), value_rows
