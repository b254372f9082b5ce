"""The tables of a release, with where they lie, where they are made, and their keys."""

from __future__ import annotations

import msgspec

from zarbek.core.model.datamodel import Table
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.plain_text import plain_text
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import iter_entries, read_symbols
from zarbek.service.reference.navigation import audience_of_release, href_of_symbol

_KINDS = frozenset({"table", "view"})


class ListedKey(msgspec.Struct, omit_defaults=True):
    """A primary or foreign key. target: the path of the table that it refers to, there: those columns of it."""

    columns: list[str]
    target: str = ""
    there: list[str] = []


class ListedTable(msgspec.Struct, omit_defaults=True, kw_only=True):
    """A table or view. place: database and schema, outermost first. file: where it is made or described, empty where
    only the database's catalogue tells of it. columns: how many it has."""

    path: str
    name: str
    href: str
    kind: str
    form: str
    place: list[str]
    file: str = ""
    summary: str = ""
    owner: str = ""
    tags: list[str] = []
    columns: int = 0
    keys: list[ListedKey] = []


class TableList(msgspec.Struct):
    """In order of their paths."""

    project: str
    version: str
    tables: list[ListedTable]


def list_tables(release: Release) -> TableList:
    """All tables and views that readers of a release see."""
    sees = audience_of_release(release).sees
    entries = [e for e in iter_entries(release.pk) if e.symbol.kind in _KINDS and sees(e.symbol)]
    found = [
        _listed(release, symbol, symbol.data.table) for _, symbol in read_symbols(entries)
        if symbol.data is not None and symbol.data.table is not None
    ]  # fmt: skip
    return TableList(release.project.slug, release.version, sorted(found, key=lambda table: table.path))


def _listed(release: Release, symbol: Symbol, table: Table) -> ListedTable:
    return ListedTable(
        path=symbol.path, name=symbol.name, href=href_of_symbol(release, symbol.path), kind=symbol.kind,
        form=table.form, place=symbol.parent.split("."),
        file=(table.query.file if table.query is not None else "") or symbol.file,
        summary=plain_text(symbol.doc.summary) if symbol.doc is not None else "",
        owner=table.owner or release.project.owner, tags=table.tags, columns=len(table.order),
        keys=[ListedKey(k.columns, k.target, k.target_columns) for k in table.keys if k.kind in ("primary", "foreign")],
    )  # fmt: skip
