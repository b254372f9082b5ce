"""The symbols of a release in a list: read whole once, as its order wants, and remembered."""

from __future__ import annotations

import msgspec

from zarbek.core.linking.index import SymbolEntry
from zarbek.service.common.compute_once import remembering
from zarbek.service.content.editions import audience_for, edition_name_of
from zarbek.service.content.queries import get_manifest, iter_entries

#: Symbols of all releases together that are remembered: some 80 MB.
_MOST = 200_000


class SymbolRow(msgspec.Struct, frozen=True):
    """A symbol in a list."""

    path: str
    name: str
    kind: str
    summary: str
    deprecated: bool


def list_public(release_id: int) -> list[SymbolRow]:
    """The public symbols of a release by path, as far as whoever asks may read them. Cost: at first use one read of all
    its blocks."""
    return _list_public(release_id, edition_name_of(get_manifest(release_id)))


@remembering(_MOST, lambda rows: 1 + len(rows))
def _list_public(release_id: int, edition: str) -> list[SymbolRow]:
    keeps = audience_for(get_manifest(release_id)).keeps
    rows = (
        SymbolRow(e.path, e.name, e.kind, e.summary, e.deprecated is not None)
        for e in (entry.symbol for entry in iter_entries(release_id)) if e.visibility == "public" and not keeps(e)
    )  # fmt: skip
    return sorted(rows, key=lambda row: row.path)


def get_operations(release_id: int) -> dict[str, SymbolEntry]:
    """The operations and APIs of a release by path, at the same cost."""
    return _get_operations(release_id, edition_name_of(get_manifest(release_id)))


@remembering(_MOST // 4, lambda entries: 1 + len(entries))
def _get_operations(release_id: int, edition: str) -> dict[str, SymbolEntry]:
    keeps = audience_for(get_manifest(release_id)).keeps
    kinds = ("operation", "api")
    return {e.symbol.path: e.symbol for e in iter_entries(release_id) if e.symbol.kind in kinds and not keeps(e.symbol)}
