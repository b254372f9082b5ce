"""A table of a data model as CommonMark, with its columns as a table (GitHub Flavored Markdown, section 4.10)."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from zarbek.core.model.datamodel import Check, Key, Table
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.plain_text import LINK

_KEYS = {"primary": "primary key", "unique": "unique", "foreign": "refers to", "index": "index"}


def table_markdown(symbol: Symbol, columns: Iterable[Symbol]) -> str:
    """What is told of a table. symbol: of a table or view; columns: its own, in order."""
    table = symbol.data.table if symbol.data is not None else None
    assert table is not None, "no table"
    parts = [f"# {symbol.path}", *_texts(symbol), *_facts(table), *_columns(columns)]
    parts += [
        part for part in (_list("Keys", map(_key, table.keys)), _list("Checks", map(_check, table.checks))) if part
    ]
    parts += [part] if (part := _list("Read from", table.reads)) else []
    if table.query is not None:
        parts.append(f"## How it is made\n\n```sql\n{(table.query.compiled or table.query.written).strip()}\n```")
    return "\n\n".join(parts) + "\n"


def _texts(symbol: Symbol) -> Iterator[str]:
    doc = symbol.doc
    if doc is None:
        return
    if doc.deprecated is not None:
        yield f"*Deprecated.* {_words(doc.deprecated.text)}".rstrip()
    for text in (doc.summary, doc.body):
        if text:
            yield _words(text)


def _facts(table: Table) -> Iterator[str]:
    if table.row:
        yield f"A row: {_words(table.row)}"
    told = {"Owner": table.owner, "Tags": ", ".join(table.tags), **table.meta}
    told |= {"Rows": f"about {table.rows:,}" if table.rows is not None else "", "Last changed": table.changed}
    if lines := [f"- {name}: {value}" for name, value in told.items() if value]:
        yield "\n".join(lines)


def _columns(columns: Iterable[Symbol]) -> Iterator[str]:
    lines = [_row(column) for column in columns]
    if lines:
        head = ["| column | type | must it be there | meaning | made from |", "|---|---|---|---|---|"]
        yield "\n".join(["## Columns\n", *head, *lines])


def _row(symbol: Symbol) -> str:
    column = symbol.data.column if symbol.data is not None else None
    must = "" if column is None or column.nullable is None else "no" if column.nullable else "yes"
    steps = ", ".join(f"`{step.path}`" for step in column.steps) if column is not None else ""
    doc = symbol.doc
    meaning = " ".join(filter(None, (doc.summary, doc.body))) if doc is not None else ""
    cells = (f"`{symbol.name}`", f"`{symbol.type}`" if symbol.type else "", must, _words(meaning), steps)
    return "| " + " | ".join(_cell(cell) for cell in cells) + " |"


def _list(title: str, items: Iterable[str]) -> str:
    lines = [f"- {item}" for item in items]
    return "\n".join([f"## {title}\n", *lines]) if lines else ""


def _key(key: Key) -> str:
    there = f" `{key.target}` ({', '.join(key.target_columns)})" if key.target else ""
    return f"{_KEYS[key.kind]}{there}: {', '.join(f'`{name}`' for name in key.columns)}"


def _check(check: Check) -> str:
    told = [check.name, check.verdict, check.told]
    return " ".join([f"`{check.text}`", *(f"({', '.join(held)})" for held in [list(filter(None, told))] if held)])


def _words(text: str) -> str:
    """Without links into the reference, which lead nowhere elsewhere."""
    return LINK.sub(lambda found: found[1] if found[2].startswith("api:") else found[0], text).strip()


def _cell(text: str) -> str:
    return " ".join(text.replace("|", "\\|").split())
