"""How much of what a database says is taken in: one that lies must not fill memory."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from zarbek.core.model.database_catalog import MAX_ALL_COLUMNS, MAX_COMMENT, MAX_EXPRESSION

_MAX_ROWS = 2 * MAX_ALL_COLUMNS


class TooMuch(Exception):
    """An answer of more rows than any catalogue has."""

    def __str__(self) -> str:
        return f"it goes on after {_MAX_ROWS:,} rows"


class Bounded(Iterator[Any]):
    """Rows of an answer. Raises TooMuch."""

    def __init__(self, rows: Iterable[Any]) -> None:
        self._rows, self._left = iter(rows), _MAX_ROWS

    def __next__(self) -> Any:
        self._left -= 1
        if self._left < 0:
            raise TooMuch
        return next(self._rows)


def comment_of(text: object) -> str:
    """What is said of an element; its beginning, where that is a book."""
    return _cut(text, MAX_COMMENT)


def expression_of(text: object) -> str:
    """An expression, a type or a query; empty where it is too long to be shown."""
    said = "" if text is None else str(text)
    return said if len(said) <= MAX_EXPRESSION else ""


def _cut(text: object, most: int) -> str:
    said = "" if text is None else str(text).strip()
    return said if len(said) <= most else said[: most - 1] + "…"
