"""The page of a table or column: what it is, how it is made, where its data come from and go to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable

from zarbek.core.findings.link_rules import broken_rules
from zarbek.core.linking.data_flow import sources_of
from zarbek.core.linking.link import Link
from zarbek.core.model.datamodel import Column, Key, Query, Table
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.table_markdown import table_markdown
from zarbek.service.catalog.models import Release
from zarbek.service.common.problems import NotFound
from zarbek.service.content.queries import find_unit_of, get_contents, get_module_block, read_symbols, read_text
from zarbek.service.links.documents import LinkMap
from zarbek.service.links.lineage import get_lineage
from zarbek.service.links.queries import count_referrers_of, get_link_map, links_of_text, with_versions
from zarbek.service.reference.linked_texts import UNLINKED, Texts, href_of
from zarbek.service.reference.table_page_data import (
    ColumnRow,
    ColumnView,
    DataView,
    FeedView,
    KeyView,
    QueryView,
    TableView,
    WayView,
)
from zarbek.service.sources.databases import seen_in_database


def get_data_view(release: Release, symbol: Symbol, texts: Texts) -> DataView | None:
    """What a symbol of a data model shows; None for any other."""
    data = symbol.data
    if data is None:
        return None
    if data.table is not None:
        return DataView(table=_table(release, symbol, data.table, texts))
    if data.column is not None:
        return DataView(column=_column(release, symbol, data.column, texts))
    return DataView(body=data.macro.body if data.macro is not None else "")


def _table(release: Release, symbol: Symbol, table: Table, texts: Texts) -> TableView:
    columns = _columns_of(release, symbol, table)
    used = count_referrers_of(release, [column.path for column in columns])
    link_map = get_link_map(release)
    now = seen_in_database(release.project.slug, symbol.path)
    rows, changed, seen_at = now if now is not None else (table.rows, table.changed, "")
    return TableView(
        form=table.form, dialect=table.dialect, place=symbol.parent.split("."), row=texts.line(table.row),
        owner=table.owner or release.project.owner, tags=table.tags, meta=table.meta,
        columns=[_row(release, column, table, used, link_map) for column in columns],
        keys=[_key(key, texts) for key in table.keys], checks=table.checks,
        query=_query(symbol, table.query, texts) if table.query is not None else None,
        feeds=[_feed(feed.name, feed.text, feed.address, texts) for feed in table.feeds],
        came_from=_ways(release, link_map, symbol), goes_to=_below(release, symbol), unknown=table.unknown,
        rows=rows, changed=changed, seen_at=seen_at, from_catalog=table.from_catalog,
    )  # fmt: skip


def write_markdown(release: Release, path: str) -> str:
    """A table as Markdown. Raises NotFound where the release has no table of that path."""
    symbol = read_text(release.pk, "symbol", path)
    table = symbol.data.table if isinstance(symbol, Symbol) and symbol.data is not None else None
    if not isinstance(symbol, Symbol) or table is None:
        raise NotFound(f"{release.project.slug} {release.version} has no table {path}.")
    return table_markdown(symbol, _columns_of(release, symbol, table))


def _columns_of(release: Release, symbol: Symbol, table: Table) -> list[Symbol]:
    """In the order of the table."""
    contents = get_contents(release.pk)
    block = get_module_block(contents.block_of(find_unit_of(contents, symbol.path)))
    entries = [e for e in block.entries if e.symbol.parent == symbol.path and e.symbol.kind == "column"]
    order = {name: number for number, name in enumerate(table.order)}
    return sorted((found for _, found in read_symbols(entries)), key=lambda s: order.get(s.name, len(order)))


def _row(release: Release, symbol: Symbol, table: Table, used: Counter[str], link_map: LinkMap) -> ColumnRow:
    column = symbol.data.column if symbol.data is not None and symbol.data.column is not None else Column()
    return ColumnRow(
        name=symbol.name, path=symbol.path, href=_href(release.project.slug, release.version, symbol.path),
        type=symbol.type,
        must=None if column.nullable is None else not column.nullable, default=column.default, computed=column.computed,
        keys=_kinds(symbol.name, table.keys), checks=column.checks, tags=column.tags,
        summary=UNLINKED.line(symbol.doc.summary if symbol.doc is not None else ""),
        deprecated=symbol.doc is not None and symbol.doc.deprecated is not None,
        came_from=_ways(release, link_map, symbol), unknown=column.unknown, used_by=used[symbol.path],
        from_catalog=column.from_catalog,
    )  # fmt: skip


def _kinds(name: str, keys: Iterable[Key]) -> list[str]:
    """What a column is by itself, or as a part of a primary or foreign key."""
    own = [key for key in keys if name in key.columns and (key.kind in ("primary", "foreign") or key.columns == [name])]
    return sorted({key.kind for key in own if key.kind != "index"})


def _column(release: Release, symbol: Symbol, column: Column, texts: Texts) -> ColumnView:
    owner = _owner(release, symbol)
    keys = [key for key in owner.keys if symbol.name in key.columns] if owner is not None else []
    return ColumnView(
        must=None if column.nullable is None else not column.nullable, default=column.default,
        computed=texts.code(column.computed), keys=[_key(key, texts) for key in keys], checks=column.checks,
        tags=column.tags, meta=column.meta, came_from=_ways(release, get_link_map(release), symbol),
        goes_to=_below(release, symbol), unknown=column.unknown, from_catalog=column.from_catalog,
    )  # fmt: skip


def _owner(release: Release, symbol: Symbol) -> Table | None:
    found = read_text(release.pk, "symbol", symbol.parent)
    return found.data.table if isinstance(found, Symbol) and found.data is not None else None


def _ways(release: Release, link_map: LinkMap, symbol: Symbol) -> list[WayView]:
    links = with_versions(release, links_of_text(release, link_map, "symbol", symbol.path))
    column = symbol.data.column if symbol.data is not None else None
    how = {step.path: step.how for step in column.steps} if column is not None else {}
    found = []
    for link in sources_of(symbol, links):
        path = link.path or link.wanted
        rules = broken_rules(link)
        found.append(WayView(link.project, path, href_of(link), how.get(path, ""),
                             rules[0].partition("/")[0] if rules else ""))  # fmt: skip
    return found


def _below(release: Release, symbol: Symbol) -> list[WayView]:
    flow = get_lineage(release, symbol.path, ("down",), 1)
    how = {edge.target: edge.how for edge in flow.edges}
    below = [(number, node) for number, node in enumerate(flow.nodes) if node.depth == 1]
    return [
        WayView(node.project, node.path, _href(node.project, node.version, node.path), how.get(number, ""))
        for number, node in below
    ]


def _key(key: Key, texts: Texts) -> KeyView:
    return KeyView(key.kind, key.columns, key.name, texts.name(key.target) if key.target else [], key.target_columns)


def _query(symbol: Symbol, query: Query, texts: Texts) -> QueryView:
    return QueryView(texts.code(query.written), texts.code(query.compiled), query.file or symbol.file, query.line)


def _feed(name: str, text: str, address: str, texts: Texts) -> FeedView:
    piece = texts.name(address)[0] if address else None
    href = piece.href if piece is not None else ""
    return FeedView(
        name, text, href or (address if address.startswith("https://") else ""), piece.state if piece else ""
    )


def _href(project: str, version: str, path: str) -> str:
    return href_of(Link("linked", "symbol", project, version, path))
