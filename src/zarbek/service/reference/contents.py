"""How a release's contents are laid out in blocks."""

from __future__ import annotations

import msgspec

from zarbek.core.linking.index import PageEntry, SymbolEntry
from zarbek.core.model.bundle import Alias, Scope


class BlockEntry(msgspec.Struct, frozen=True, array_like=True):
    symbol: SymbolEntry
    content: int


class ModuleBlock(msgspec.Struct, frozen=True):
    scope: Scope
    entries: list[BlockEntry]


class PageRef(msgspec.Struct, frozen=True, array_like=True):
    entry: PageEntry
    content: int


class ReleaseContents(msgspec.Struct, frozen=True):
    """modules: module to block id. aliases, pages: block ids, 0 for none. assets: path to digest."""

    modules: dict[str, int] = {}
    aliases: int = 0
    pages: int = 0
    assets: dict[str, str] = {}


AliasBlock = list[Alias]
PageBlock = list[PageRef]
