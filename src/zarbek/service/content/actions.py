"""Storing what a bundle holds: content once, and which content a release has."""

from __future__ import annotations

from collections import defaultdict, deque
from collections.abc import Callable, Iterable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass, field
from hashlib import sha256

import msgspec
from django.core.files.base import ContentFile
from django.db import connection

from zarbek.core.linking.index import MODULE_KINDS, SymbolEntry, entry_of, page_entry_of, variants_of
from zarbek.core.linking.name_digest import digest_names
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.model.bundle import Alias, Scope
from zarbek.core.model.example import EXAMPLE, Verdict
from zarbek.core.model.relative_lines import detach
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.batches import batched
from zarbek.service.common.packing import digest_of, pack
from zarbek.service.content.block_layout import (
    BlockEntry,
    ModuleBlock,
    PageRef,
    ReleaseContents,
    SourceEntry,
    SourceRef,
    pack_page,
    pack_source,
)
from zarbek.service.content.last_stored import LastStored, StoredSymbol, last_stored
from zarbek.service.content.models import Asset, Block, PageContent, SymbolContent
from zarbek.service.content.units import Units


def store_release(release: Release, bundle: BundleReader, *, progress: Callable[[int, int], None]) -> ReleaseContents:
    """Store a bundle's content and return its layout; what is known already is written not again.

    Raises BundleRefused while reading. Storing twice changes nothing.
    """
    project = release.project
    total = bundle.manifest.counts.get("symbols", 0)
    last = last_stored(project.pk)
    stored = _store_symbols(project, bundle, last, lambda done: progress(done, total))
    scopes, aliases = list(bundle.scopes()), list(bundle.aliases())
    pages = _store_pages(project, bundle)
    verdicts = list(bundle.verdicts())
    sources = _store_sources(project, bundle, stored, last)
    assets = _store_assets(project, bundle)
    return lay_out(project, stored, Laid(scopes, aliases, pages, assets, verdicts, sources), last)


@dataclass(frozen=True, slots=True)
class Laid:
    """What a release has besides its symbols. assets: path to digest."""

    scopes: list[Scope]
    aliases: list[Alias]
    pages: list[PageRef]
    assets: dict[str, str]
    verdicts: list[Verdict] = field(default_factory=list)
    sources: list[SourceRef] = field(default_factory=list)


def lay_out(project: Project, stored: Stored, laid: Laid, last: LastStored | None = None) -> ReleaseContents:
    """Store how a release's contents are laid out."""
    blocks = _module_blocks(laid.scopes, stored)
    paths = [row.symbol.path for rows in stored.units.values() for row in rows]
    names = paths, [(a.name, a.path) for a in laid.aliases], [p.entry.path for p in laid.pages]
    known = last.names.to(names, lambda: digest_names(*names)) if last else digest_names(*names)
    always, sometimes = map(pack, (laid.aliases, laid.pages, known)), (laid.verdicts, laid.sources)
    parts = [*always, *(pack(part) if part else b"" for part in sometimes)]
    ids = {digest_of(b""): 0, **_store_blocks(project, [*blocks.values(), *filter(None, parts)])}
    alias_block, page_block, name_block, verdict_block, source_block = (ids[digest_of(part)] for part in parts)
    return ReleaseContents(
        {name: ids[digest_of(document)] for name, document in blocks.items() if name not in stored.types},
        alias_block, page_block, laid.assets,
        {name: ids[digest_of(document)] for name, document in blocks.items() if name in stored.types},
        sorted(stored.hidden), sorted(name for name in blocks if stored.is_empty(name)), stored.titles,
        name_block, verdict_block, source_block,
    )  # fmt: skip


def _module_blocks(listed: list[Scope], stored: Stored) -> dict[str, bytes]:
    """What stands in each module, and what names mean there."""
    scopes: dict[str, list[Scope]] = defaultdict(list)
    for scope in listed:
        scopes[scope.module].append(scope)
    return {
        name: pack(ModuleBlock(scopes.get(name, []), stored.units.get(name, []), stored.outlines.get(name, [])))
        for name in sorted({*stored.units, *(name for name in scopes if name)})
    }


@dataclass(slots=True)
class Stored:
    """Where symbols are put that come in order of path. units: entries by unit. outlines: entries of outermost types by
    module."""

    units: dict[str, list[BlockEntry]] = field(default_factory=lambda: defaultdict(list))
    outlines: dict[str, list[BlockEntry]] = field(default_factory=lambda: defaultdict(list))
    types: set[str] = field(default_factory=set)
    hidden: set[str] = field(default_factory=set)
    titles: dict[str, str] = field(default_factory=dict)

    def is_empty(self, module: str) -> bool:
        """Whether a module has nothing to read: neither text nor anything of its own."""
        own = [e for e in self.units.get(module, []) if e.symbol.kind != EXAMPLE]
        return (
            module not in self.titles
            and not self.outlines.get(module)
            and len(own) < 2
            and not any(e.symbol.summary for e in own)
        )

    def add(self, unit: str, home: str, entry: SymbolEntry, content: int) -> None:
        """unit, home: as of ``Units``. content: primary key of what is stored of it, 0 for nothing."""
        row = BlockEntry(entry, content)
        self.units[unit].append(row)
        if unit == entry.path and entry.kind not in MODULE_KINDS:
            self.types.add(unit)
            self.outlines[home].append(row)
        elif entry.kind in MODULE_KINDS and entry.visibility != "public":
            self.hidden.add(entry.path)
        elif entry.kind == "topic":
            self.titles[entry.path] = entry.name


def place_symbols(entries: Iterable[SymbolEntry]) -> Stored:
    """Symbols whose contents are elsewhere, by unit. entries: in order of path."""
    stored, units = Stored(), Units()
    for entry in entries:
        stored.add(*units.place_of(entry), entry, 0)
    return stored


#: Batches that are read while one is written: few, so that a slow database is not outrun in memory.
_AHEAD = 3
#: Line, digest, entry and document of a symbol; of one whose content is known no document.
_Row = tuple[bytes, str, SymbolEntry, bytes]


def _store_symbols(
    project: Project, bundle: BundleReader, last: LastStored | None, progress: Callable[[int], None]
) -> Stored:  # fmt: skip
    """One thread writes what the other has read and checked: the database works meanwhile."""
    before = last.symbols if last is not None else {}
    after: dict[bytes, StoredSymbol] = {}
    stored, units = Stored(), Units()
    done = 0
    # A project's first release finds nothing that it could share, so it does not look.
    is_first = not SymbolContent.objects.filter(project=project).exists()
    waiting: deque[tuple[list[_Row], Future[dict[str, int]]]] = deque()

    def take() -> None:
        nonlocal done
        rows, written = waiting.popleft()
        ids = written.result()
        for line, digest, entry, _ in rows:
            stored.add(*units.place_of(entry), entry, ids[digest])
            if last is not None:
                after[line] = StoredSymbol(digest, entry, ids[digest])
        done += len(rows)
        progress(done)

    with ThreadPoolExecutor(1) as writer:
        try:
            for rows in batched(bundle.symbols_as(lambda line: _row_of(line, before))):
                known = {r[1]: before[r[0]].content for r in rows if not r[3]}
                waiting.append((rows, writer.submit(_write_symbols, project, rows, known, is_first=is_first)))
                if len(waiting) > _AHEAD:
                    take()
            while waiting:
                take()
        finally:
            writer.submit(connection.close)  # Of that thread.
    if last is not None:
        last.symbols = after
    return stored


_DECODE = msgspec.json.Decoder(Symbol).decode
_ENCODE = msgspec.json.Encoder().encode


def _row_of(line: bytes, before: Mapping[bytes, StoredSymbol]) -> _Row:
    known = before.get(line)
    if known is not None:
        return line, known.digest, known.entry, b""
    symbol = _DECODE(line)
    document = _ENCODE(detach(symbol))
    return line, digest_of(document), entry_of(symbol), document


def _write_symbols(project: Project, rows: list[_Row], known: dict[str, int], *, is_first: bool) -> dict[str, int]:
    """Digest to the id of its content, which is written where it is not there yet. known: of some of them already."""
    unknown = [digest for _, digest, _, _ in rows if digest not in known]
    if not is_first and unknown:
        known |= _known(SymbolContent, project, unknown)
    missing = {d: (entry.path, doc) for _, d, entry, doc in rows if d not in known}
    made = SymbolContent.objects.bulk_create(
        # By position is twice as fast as by name.
        [SymbolContent(None, project.pk, d, path, document) for d, (path, document) in missing.items()]
    )
    return known | {row.digest: row.pk for row in made}


def _known(model: type, project: Project, digests: list[str]) -> dict[str, int]:
    rows = model.objects.filter(project=project, digest__in=digests)  # type: ignore[attr-defined]
    return dict(rows.values_list("digest", "pk"))


def _store_blocks(project: Project, documents: list[bytes]) -> dict[str, int]:
    by_digest = {digest_of(document): document for document in documents}
    ids: dict[str, int] = {}
    for batch in batched(by_digest.items()):
        known = _known(Block, project, [digest for digest, _ in batch])
        made = Block.objects.bulk_create(
            [Block(project=project, digest=d, document=doc) for d, doc in batch if d not in known]
        )
        ids.update(known)
        ids.update((block.digest, block.pk) for block in made)
    return ids


#: Pages of a tree are whole documents: few are held at a time.
_PAGES_AT_ONCE = 50


def _store_pages(project: Project, bundle: BundleReader) -> list[PageRef]:
    stored: list[PageRef] = []
    for batch in batched(bundle.pages(), _PAGES_AT_ONCE):
        ids = _write_pages(project, [(page.path, pack_page(page)) for page in batch])
        stored += [PageRef(page_entry_of(page), content) for page, content in zip(batch, ids, strict=True)]
    return stored


def _write_pages(project: Project, pages: list[tuple[str, bytes]]) -> list[int]:
    """Path and document of each to the id of its content, which is written where it is not there yet."""
    digests = [digest_of(document) for _, document in pages]
    ids = _known(PageContent, project, digests)
    missing = {digest: page for digest, page in zip(digests, pages, strict=True) if digest not in ids}
    made = PageContent.objects.bulk_create(
        [PageContent(project=project, digest=d, path=path, document=doc) for d, (path, doc) in missing.items()]
    )
    ids |= {row.digest: row.pk for row in made}
    return [ids[digest] for digest in digests]


def _store_sources(
    project: Project, bundle: BundleReader, stored: Stored, last: LastStored | None
) -> list[SourceRef]:  # fmt: skip
    """The texts of a release's files, each once for all releases that have it unchanged."""
    declared = _declared(stored)
    before = last.sources if last is not None else {}
    after: dict[str, tuple[str, int]] = {}
    made: list[SourceRef] = []
    for batch in batched(bundle.sources(), _PAGES_AT_ONCE):
        known = {s.file: before[s.file][1] for s in batch if before.get(s.file, ("",))[0] == s.text}
        others = [s for s in batch if s.file not in known]
        ids = _write_pages(project, [(s.file, pack_source(s)) for s in others])
        known |= {s.file: content for s, content in zip(others, ids, strict=True)}
        for source in batch:
            content, own = known[source.file], declared.get(source.file, ([], []))
            lines = source.text.count("\n") + 1
            made.append(SourceRef(SourceEntry(source.file, source.language, lines, *own), content))
            if last is not None:
                after[source.file] = source.text, content
    if last is not None:
        last.sources = after
    return made


def _declared(stored: Stored) -> dict[str, tuple[list[str], list[list[str]]]]:
    """The units and the variants of what each file declares."""
    units: dict[str, dict[str, None]] = defaultdict(dict)
    variants: dict[str, set[tuple[str, ...]]] = defaultdict(set)
    for unit, entries in stored.units.items():
        seen = {(s.file, s.visibility, tuple(s.variants)): s for s in (row.symbol for row in entries)}
        for entry in seen.values():
            units[entry.file][unit] = None
            if found := variants_of(entry):
                variants[entry.file].add(tuple(found))
    return {file: (list(named), [list(v) for v in sorted(variants[file])]) for file, named in units.items()}


def _store_assets(project: Project, bundle: BundleReader) -> dict[str, str]:
    stored: dict[str, str] = {}
    for name in bundle.asset_names():
        data = bundle.asset(name)
        digest = sha256(data).hexdigest()
        if not Asset.objects.filter(project=project, digest=digest).exists():
            asset = Asset(project=project, digest=digest)
            asset.file.save(f"{digest[:2]}/{digest}", ContentFile(data), save=False)
            asset.save()
        stored[name] = digest
    return stored
