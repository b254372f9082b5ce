"""Tables to open in a spreadsheet. Source: RFC 4180."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

#: Signs with which a cell is a formula to programs that calculate.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def csv_table(head: Iterable[str], rows: Iterable[Iterable[object]]) -> str:
    """Rows below a head. No cell is a formula, whatever its text begins with; None is an empty one."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(head)
    writer.writerows([_cell(value) for value in row] for row in rows)
    return out.getvalue()


def _cell(value: object) -> object:
    if isinstance(value, str) and value.startswith(_FORMULA):
        return f"'{value}"
    return "" if value is None else value
