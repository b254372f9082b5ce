"""What others need to know of a release to link to it: handed from one portal to whoever shows a working tree."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from zarbek.core.linking.index import PageEntry, SymbolEntry
from zarbek.core.model.bundle import Alias, Manifest, Scope
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Project, Release
from zarbek.service.content.actions import Laid, lay_out, place_symbols
from zarbek.service.content.block_layout import PageRef, ReleaseContents
from zarbek.service.content.editions import audience_for
from zarbek.service.content.queries import (
    find_exact,
    get_aliases,
    get_contents,
    get_manifest,
    iter_blocks,
    list_page_refs,
    read_symbols,
)

#: Elements of one answer.
MOST_ELEMENTS = 20


class LinkIndex(msgspec.Struct, frozen=True):
    """symbols: all that there are, in their order; of those that its readers do not see no more than that they are
    there. assets: path to digest. choices: what its mentions of other projects meant when it was published, version by
    slug."""

    manifest: Manifest
    symbols: list[SymbolEntry]
    aliases: list[Alias]
    scopes: list[Scope]
    pages: list[PageEntry]
    assets: dict[str, str]
    choices: dict[str, str] = {}


class Elements(msgspec.Struct, frozen=True):
    """Symbols as bundles have them."""

    symbols: list[Symbol]


def read_link_index(release: Release) -> LinkIndex:
    """Of the edition that whoever asks reads, as if there were no other."""
    manifest, contents = get_manifest(release.pk), get_contents(release.pk)
    audience = audience_for(manifest)
    symbols: list[SymbolEntry] = []
    scopes: list[Scope] = []
    for _, block in iter_blocks(release.pk):
        symbols += [_known(e.symbol, audience.sees(e.symbol)) for e in block.entries if audience.has(e.symbol.variants)]
        scopes += block.scopes
    modules = {entry.module for entry in symbols}
    paths = {symbol.path for symbol in symbols}
    aliases = [alias for alias in get_aliases(contents.aliases).values() if alias.path in paths]
    pages = [msgspec.structs.replace(ref.entry, variants=[]) for ref in list_page_refs(release.pk)]
    told = msgspec.structs.replace(manifest, editions={}, servers=[], owners={}, digests={}, counts={})
    return LinkIndex(
        told,
        sorted(symbols, key=lambda s: s.path),
        aliases,
        [s for s in scopes if s.module in modules],
        pages,
        contents.assets,
        _choices(release),
    )


def _choices(release: Release) -> dict[str, str]:
    """Of projects that whoever asks may know of."""
    chosen = release.first_choices or {}
    visible = set(Project.objects.filter(slug__in=chosen).values_list("slug", flat=True))
    return {slug: version for slug, version in chosen.items() if slug in visible}


def read_elements(release: Release, paths: Iterable[str]) -> Elements:
    """Symbols by their very paths, as far as whoever asks sees them; others are left out."""
    sees = audience_for(get_manifest(release.pk)).sees
    found = (find_exact(release.pk, path) for path in paths)
    shown = [entry for entry in found if entry is not None and entry.content and sees(entry.symbol)]
    return Elements([msgspec.structs.replace(symbol, variants=[]) for _, symbol in read_symbols(shown)])


def _known(entry: SymbolEntry, is_seen: bool) -> SymbolEntry:
    shown = msgspec.structs.replace(entry, variants=[])
    return shown if is_seen else msgspec.structs.replace(shown, summary="", bases=[], deprecated=None)


def store_link_index(release: Release, index: LinkIndex) -> ReleaseContents:
    """Keep it as what is stored of a release whose texts are elsewhere."""
    stored = place_symbols(index.symbols)
    pages = [PageRef(entry, 0) for entry in index.pages]
    return lay_out(release.project, stored, Laid(index.scopes, index.aliases, pages, index.assets))
