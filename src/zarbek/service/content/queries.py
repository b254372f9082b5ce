"""Reading what a release has. Blocks never change, so they are kept in memory by id."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from itertools import islice
from typing import Any, TypeVar

import msgspec
from django.conf import settings

from zarbek.core.linking.index import PageEntry, ReleaseIndex, SymbolEntry
from zarbek.core.linking.name_digest import NameDigest, NameFilter
from zarbek.core.model.bundle import Alias, Manifest
from zarbek.core.model.example import Verdict
from zarbek.core.model.naming import enclosing_of, key_of
from zarbek.core.model.page import Page
from zarbek.core.model.relative_lines import attach
from zarbek.core.model.symbol import Symbol
from zarbek.core.model.visibility import KEPT_LEVELS, shown_levels
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.batches import BATCH, batched
from zarbek.service.common.compute_once import remembering
from zarbek.service.common.packing import unpack
from zarbek.service.content.block_layout import (
    BlockEntry,
    ModuleBlock,
    PageRef,
    ReleaseContents,
    SourceRef,
    unpack_page,
    unpack_source,
)
from zarbek.service.content.editions import audience_for
from zarbek.service.content.models import Asset, Block, PageContent, SymbolContent

_SYMBOL = msgspec.json.Decoder(Symbol)
#: What is remembered of releases, in bytes and in symbols with other names: some 64 MB and 500 MB.
_NAMES_BYTES, _INDEX_ENTRIES = 64 * 2**20, 300_000
#: Release id, ``symbol`` or ``page``, path, id of the content.
HeldText = tuple[int, str, str, int]


class _Named(msgspec.Struct, array_like=True):
    path: str


class _Held(msgspec.Struct, array_like=True):
    symbol: _Named
    content: int


class _HeldBlock(msgspec.Struct):
    """Of a block only which content stands at which path, which is read several times as fast."""

    entries: list[_Held]


B = TypeVar("B", ModuleBlock, _HeldBlock)


@remembering(200_000, lambda contents: 10 + len(contents.modules) + len(contents.types))
def get_contents(release_id: int) -> ReleaseContents:
    """Where a release's blocks are."""
    data = Release.objects.values_list("contents", flat=True).get(pk=release_id)
    return unpack(data, ReleaseContents) if data else ReleaseContents()


@remembering(100_000, lambda manifest: 10 + len(manifest.digests) + len(manifest.dependencies))
def get_manifest(release_id: int) -> Manifest:
    """A release's manifest."""
    return msgspec.json.decode(Release.objects.values_list("manifest", flat=True).get(pk=release_id), type=Manifest)


@remembering(100_000, lambda block: 1 + len(block.entries) + len(block.outline))
def get_module_block(block_id: int) -> ModuleBlock:
    """A block of symbols."""
    return unpack(Block.objects.values_list("document", flat=True).get(pk=block_id), ModuleBlock)


@remembering(200_000, lambda aliases: 1 + len(aliases))
def get_aliases(block_id: int) -> dict[str, Alias]:
    """A release's aliases by name; none for a block id of 0."""
    if not block_id:
        return {}
    data = Block.objects.values_list("document", flat=True).get(pk=block_id)
    return {alias.name: alias for alias in unpack(data, list[Alias])}


@remembering(200_000, lambda verdicts: 1 + len(verdicts))
def get_verdicts(block_id: int) -> dict[str, Verdict]:
    """How a release's examples went, by their paths; none for a block id of 0."""
    if not block_id:
        return {}
    data = Block.objects.values_list("document", flat=True).get(pk=block_id)
    return {verdict.path: verdict for verdict in unpack(data, list[Verdict])}


@remembering(50_000, lambda refs: 1 + len(refs))
def get_page_refs(block_id: int) -> list[PageRef]:
    """A release's guides; none for a block id of 0."""
    if not block_id:
        return []
    return unpack(Block.objects.values_list("document", flat=True).get(pk=block_id), list[PageRef])


@remembering(_NAMES_BYTES, lambda names: names.size)
def _get_names(block_id: int) -> NameFilter:
    return NameFilter(unpack(Block.objects.values_list("document", flat=True).get(pk=block_id), NameDigest))


def get_names(release_id: int) -> NameFilter | None:
    """What tells quickly that a release has not a name; None for one that was stored without it."""
    block = get_contents(release_id).names
    return _get_names(block) if block else None


def find_unit_of(contents: ReleaseContents, path: str) -> str:
    """The innermost block of a release that may hold a path, by name, or empty."""
    unit = path
    while unit and not contents.block_of(unit):
        unit = enclosing_of(unit)
    return unit or _file_units(contents).get(path, "")


def find_home(release_id: int, path: str) -> str:
    """The module under whose name a symbol is found, or empty."""
    contents = get_contents(release_id)
    unit = find_unit_of(contents, path)
    while unit and unit not in contents.modules:
        unit = find_unit_of(contents, enclosing_of(unit))
    return unit


def _file_units(contents: ReleaseContents) -> dict[str, str]:
    """Path to its block, for names that say nothing of the file whose they are (C)."""
    return _names_in_files(tuple((unit, block) for unit, block in contents.modules.items() if "/" in unit))


@remembering(200_000, lambda names: 1 + len(names))
def _names_in_files(units: tuple[tuple[str, int], ...]) -> dict[str, str]:
    documents = dict(_read_blocks((block for _, block in units), _HeldBlock))
    return {
        entry.symbol.path: unit for unit, block in units for entry in documents[block].entries
        if not entry.symbol.path.startswith(unit)
    }  # fmt: skip


@remembering(100_000, lambda entries: 1 + len(entries))
def _by_path(block_id: int) -> dict[str, BlockEntry]:
    return {entry.symbol.path: entry for entry in get_module_block(block_id).entries}


@remembering(300_000, lambda contents: 1 + len(contents))
def _contents_by_path(block_id: int) -> dict[str, int]:
    ((_, block),) = _read_blocks([block_id], _HeldBlock)
    return {entry.symbol.path: entry.content for entry in block.entries}


def find_content(release_id: int, path: str) -> int:
    """The id of the content of a symbol by its very path; 0 for none."""
    blocks = _blocks_around(get_contents(release_id), path)
    return next(filter(None, (_contents_by_path(block).get(path, 0) for block in blocks)), 0)


def read_contents(ids: Collection[int]) -> list[Symbol]:
    """Symbols without their places, in the order of the ids of their contents."""
    documents = dict(SymbolContent.objects.filter(pk__in=ids).values_list("pk", "document"))
    return [_SYMBOL.decode(documents[content]) for content in ids]


def find_exact(release_id: int, path: str) -> BlockEntry | None:
    """A symbol of a release by its very path."""
    contents = get_contents(release_id)
    block = contents.block_of(find_unit_of(contents, path))
    return _by_path(block).get(path) if block else None


def find_entry(release_id: int, path: str) -> BlockEntry | None:
    """A symbol of a release by its path or by any other name."""
    contents = get_contents(release_id)
    found = _find_by_path(contents, path)
    if found is not None:
        return found
    aliases = get_aliases(contents.aliases)
    head, tail = path, ""
    while head:
        if head in aliases:
            return _find_by_path(contents, aliases[head].path + tail)
        shorter = enclosing_of(head)
        head, tail = shorter, head[len(shorter) :] + tail
    return _find_by_key(contents, path)


def find_shown(release_id: int, path: str) -> BlockEntry | None:
    """A symbol of a release that its readers see, by its path or by any other name."""
    entry = find_entry(release_id, path)
    return entry if entry is not None and is_shown(release_id, entry.symbol) else None


def is_shown(release_id: int, entry: SymbolEntry) -> bool:
    """Whether whoever asks may see a symbol: those that a project keeps to itself, and those that are not in the
    edition that is read, are as if they were not."""
    return not audience_for(get_manifest(release_id)).keeps(entry)


def _blocks_around(contents: ReleaseContents, path: str) -> Iterator[int]:
    """The blocks that may hold a path, the innermost first."""
    unit = find_unit_of(contents, path)
    while unit:
        yield contents.block_of(unit)
        unit = find_unit_of(contents, enclosing_of(unit))


def _find_by_path(contents: ReleaseContents, path: str) -> BlockEntry | None:
    found = (_by_path(block).get(path) for block in _blocks_around(contents, path))
    return next((entry for entry in found if entry is not None), None)


def _find_by_key(contents: ReleaseContents, path: str) -> BlockEntry | None:
    """The first declared of the overloads that a name without parameters means."""
    key = key_of(path)
    for block in () if "(" in path else _blocks_around(contents, path):
        same = [e for e in get_module_block(block).entries if key_of(e.symbol.path) == key]
        if same:
            return min(same, key=lambda e: (e.symbol.file, e.symbol.line))
    return None


def read_symbol(entry: BlockEntry) -> Symbol:
    """A symbol in full, with the place where its release has it."""
    document = SymbolContent.objects.values_list("document", flat=True).get(pk=entry.content)
    return attach(_SYMBOL.decode(document), entry.symbol.file, entry.symbol.line)


def read_symbols(entries: Iterable[BlockEntry]) -> Iterator[tuple[BlockEntry, Symbol]]:
    """Symbols in the order of entries, a batch of rows at a time."""
    for batch in batched(entries):
        ids = [entry.content for entry in batch]
        documents = dict(SymbolContent.objects.filter(pk__in=ids).values_list("pk", "document"))
        for entry in batch:
            symbol = _SYMBOL.decode(documents[entry.content])
            yield entry, attach(symbol, entry.symbol.file, entry.symbol.line)


def iter_symbols(release_id: int) -> Iterator[tuple[str, list[tuple[BlockEntry, Symbol]]]]:
    """(unit, its symbols) in the order of iter_blocks; the content of small units is read together."""
    pending: list[tuple[str, list[BlockEntry]]] = []
    for unit, block in iter_blocks(release_id):
        pending.append((unit, block.entries))
        if sum(len(entries) for _, entries in pending) >= BATCH:
            yield from _with_content(pending)
            pending = []
    yield from _with_content(pending)


def _with_content(
    units: list[tuple[str, list[BlockEntry]]]
) -> Iterator[tuple[str, list[tuple[BlockEntry, Symbol]]]]:  # fmt: skip
    symbols = read_symbols(entry for _, entries in units for entry in entries)
    for unit, entries in units:
        yield unit, list(islice(symbols, len(entries)))


def iter_entries(release_id: int) -> Iterator[BlockEntry]:
    """Every symbol of a release, block after block."""
    for _, block in iter_blocks(release_id):
        yield from block.entries


def iter_blocks(release_id: int) -> Iterator[tuple[str, ModuleBlock]]:
    """(unit, block), modules before types, each in order of name, by few queries and without filling the cache: that is
    for what one reader of a working tree has, nearly all of which is the same after each save."""
    contents = get_contents(release_id)
    units = [*contents.modules.items(), *contents.types.items()]
    if settings.PREVIEW:
        yield from ((unit, get_module_block(block)) for unit, block in units)
        return
    blocks = _read_blocks((block for _, block in units), ModuleBlock)
    yield from ((unit, block) for (unit, _), (_, block) in zip(units, blocks, strict=True))


def _read_blocks(blocks: Iterable[int], kind: type[B]) -> Iterator[tuple[int, B]]:
    """(id, block) in the order of blocks, a batch of rows at a time, without filling the cache."""
    for batch in batched(blocks, 200):
        documents = dict(Block.objects.filter(pk__in=batch).values_list("pk", "document"))
        yield from ((block, unpack(documents[block], kind)) for block in batch)


def contents_held_by(blocks: Collection[int]) -> tuple[set[int], set[int]]:
    """Ids of the symbols' and of the guides' contents that blocks of any kind name."""
    symbols, pages = set[int](), set[int]()
    for batch in batched(sorted(blocks), 100):
        for data in Block.objects.filter(pk__in=batch).values_list("document", flat=True):
            block = unpack(data, Any)
            if isinstance(block, dict):
                symbols.update(entry[1] for part in ("entries", "outline") for entry in block.get(part, ()))
            elif isinstance(block, list):  # Of aliases, which name no content, or of guides.
                pages.update(row[1] for row in block if len(row) == 2 and isinstance(row[1], int))
    return symbols, pages


def held(texts: Collection[HeldText]) -> set[HeldText]:
    """Those whose very content the release has at that path. Cost: a query for each 200 blocks they lie in."""
    pages = {text for text in texts if text[1] == "page"}
    refs = {(pk, ref.entry.path, ref.content) for pk in {t[0] for t in pages} for ref in list_page_refs(pk)}
    found = {(pk, kind, path, content) for pk, kind, path, content in pages if (pk, path, content) in refs}
    pending = {text: find_unit_of(get_contents(text[0]), text[2]) for text in texts if text[1] == "symbol"}
    while pending := {text: unit for text, unit in pending.items() if unit}:
        kept = _contents_there(pending)
        found.update(text for text, content in kept.items() if content == text[3])
        pending = {
            text: find_unit_of(get_contents(text[0]), enclosing_of(unit)) for text, unit in pending.items()
            if text not in kept
        }  # fmt: skip
    return found


def _contents_there(units: Mapping[HeldText, str]) -> dict[HeldText, int]:
    """Text to the content at its path, for those whose unit has the path."""
    by_block: dict[int, list[HeldText]] = defaultdict(list)
    for text, unit in units.items():
        by_block[get_contents(text[0]).block_of(unit)].append(text)
    found: dict[HeldText, int] = {}
    for block, document in _read_blocks(by_block, _HeldBlock):
        contents = {entry.symbol.path: entry.content for entry in document.entries}
        found.update((text, contents[text[2]]) for text in by_block[block] if text[2] in contents)
    return found


def read_page(ref: PageRef) -> Page:
    """A guide in full, with its place in the contents."""
    document = PageContent.objects.values_list("document", flat=True).get(pk=ref.content)
    return msgspec.structs.replace(unpack_page(document), order=ref.entry.order, depth=ref.entry.depth)


def read_text(release_id: int, kind: str, path: str) -> Symbol | Page | None:
    """One symbol or page of a release by its path; None where it has none. kind: ``symbol`` or ``page``."""
    if kind == "page":
        return next((read_page(ref) for ref in list_page_refs(release_id) if ref.entry.path == path), None)
    entry = find_entry(release_id, path)
    return read_symbol(entry) if entry is not None else None


def list_sources(release_id: int) -> list[SourceRef]:
    """The files of a release that readers may look into, by name."""
    is_shown = _files_shown(get_manifest(release_id))
    return [ref for ref in _source_refs(release_id).values() if is_shown(ref)]


def find_source(release_id: int, file: str) -> SourceRef | None:
    """A file that readers may look into; None where there is none."""
    ref = _source_refs(release_id).get(file)
    return ref if ref is not None and _files_shown(get_manifest(release_id))(ref) else None


def _source_refs(release_id: int) -> dict[str, SourceRef]:
    block = get_contents(release_id).sources
    return _get_source_refs(block) if block else {}


@remembering(100_000, lambda refs: 1 + len(refs))
def _get_source_refs(block_id: int) -> dict[str, SourceRef]:
    refs = unpack(Block.objects.values_list("document", flat=True).get(pk=block_id), list[SourceRef])
    return {ref.entry.file: ref for ref in refs}


def _files_shown(manifest: Manifest) -> Callable[[SourceRef], bool]:
    """Whether whoever asks may look into a file: not where it declares anything that is not in the edition that they
    read, and that others see."""
    audience = audience_for(manifest)
    if audience.edition is None:
        return lambda ref: True
    kept_from_all = {f"={level}" for level in KEPT_LEVELS} - {f"={level}" for level in shown_levels(manifest.options)}
    return lambda ref: all(audience.has(set(found) - kept_from_all) for found in ref.entry.variants)


def read_source(ref: SourceRef) -> str:
    """The text of a file."""
    return unpack_source(PageContent.objects.values_list("document", flat=True).get(pk=ref.content))


def list_page_refs(release_id: int) -> list[PageRef]:
    """The guides of a release that whoever asks may read."""
    refs = get_page_refs(get_contents(release_id).pages)
    audience = audience_for(get_manifest(release_id))
    return refs if audience.edition is None else [ref for ref in refs if audience.has(ref.entry.variants)]


@remembering(_INDEX_ENTRIES, lambda index: 1 + len(index.symbols) + len(index.alias_list))
def load_index(release_id: int) -> ReleaseIndex:
    """What linking needs of a release. Cost: one read of all its blocks."""
    slug = Release.objects.values_list("project__slug", flat=True).get(pk=release_id)
    manifest = get_manifest(release_id)  # Its version is the one to come, where the release is not live yet.
    contents = get_contents(release_id)
    symbols: list[SymbolEntry] = []
    scopes = []
    for _, block in iter_blocks(release_id):
        symbols += [entry.symbol for entry in block.entries]
        scopes += block.scopes
    pages: list[PageEntry] = [ref.entry for ref in list_page_refs(release_id)]
    return ReleaseIndex(
        slug, manifest.version, symbols=symbols,
        aliases=get_aliases(contents.aliases).values(), scopes=scopes, pages=pages,
        assets=contents.assets, manifest=manifest,
    )  # fmt: skip


def find_asset(project: Project, digest: str) -> Asset | None:
    """A project's file by its content."""
    return Asset.objects.filter(project=project, digest=digest).first()
