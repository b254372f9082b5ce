"""Tables of reStructuredText to tables of GitHub Flavored Markdown, section 4.10."""

from __future__ import annotations

import re
from collections.abc import Callable

Inline = Callable[[str], str]
_BORDER = re.compile(r"=+")


def convert_simple_table(rows: list[str], inline: Inline) -> str:
    """rows: from the first border to the last. Empty when the table is too odd to keep."""
    spans = [match.span() for match in _BORDER.finditer(rows[0])]
    borders = [i for i, row in enumerate(rows) if row.startswith("=") and set(row) <= {"=", " "}]
    header = rows[1 : borders[1]] if len(borders) > 2 else []
    body = rows[(borders[1] if len(borders) > 2 else 0) + 1 : borders[-1]]
    cells: list[list[str]] = []
    for row in body:
        if not row or set(row) <= {"-", " "}:
            continue
        cut = _cut(row, spans)
        if cells and not cut[0]:
            cells[-1] = [f"{old} {new}".strip() for old, new in zip(cells[-1], cut, strict=True)]
        else:
            cells.append(cut)
    head = [" ".join(_cut(row, spans)[i] for row in header).strip() for i in range(len(spans))]
    return _table(head, cells, inline)


def _cut(row: str, spans: list[tuple[int, int]]) -> list[str]:
    last = len(spans) - 1
    return [row[a : None if i == last else spans[i + 1][0]].strip() for i, (a, _) in enumerate(spans)]


def convert_grid_table(rows: list[str], inline: Inline) -> str:
    """rows: from the first border to the last. Empty when cells span columns or rows."""
    width = rows[0].count("+")
    groups: list[list[list[str]]] = [[]]
    has_header = False
    for row in rows[1:]:
        if row.startswith("+"):
            if row.count("+") != width or set(row.strip()) - set("+-="):
                return ""
            has_header = has_header or "=" in row
            groups.append([])
        elif row.count("|") != width:
            return ""
        else:
            groups[-1].append([cell.strip() for cell in row.strip().strip("|").split("|")])
    joined = [[" ".join(col).strip() for col in zip(*group, strict=True)] for group in groups if group]
    if not joined:
        return ""
    head = joined.pop(0) if has_header else [""] * len(joined[0])
    return _table(head, joined, inline)


def _table(head: list[str], rows: list[list[str]], inline: Inline) -> str:
    def line(cells: list[str]) -> str:
        return "| " + " | ".join(inline(c).replace("|", "\\|").replace("\n", " ") for c in cells) + " |"

    return "\n".join([line(head), "|" + " --- |" * len(head), *map(line, rows)])
