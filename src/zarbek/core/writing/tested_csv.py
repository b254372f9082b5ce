"""What is tested, as a table to open in a spreadsheet. Source: RFC 4180."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable

HEAD = ("module", "element", "kind", "example", "project", "version", "verdict", "at", "seconds", "told")
#: Signs with which a cell is a formula to programs that calculate.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def write_csv(rows: Iterable[Iterable[object]]) -> str:
    """Rows below HEAD. No cell is a formula, whatever its text begins with."""
    out = io.StringIO(newline="")
    writer = csv.writer(out)
    writer.writerow(HEAD)
    writer.writerows([_cell(value) for value in row] for row in rows)
    return out.getvalue()


def _cell(value: object) -> object:
    if isinstance(value, str) and value.startswith(_FORMULA):
        return f"'{value}"
    return "" if value is None else value
