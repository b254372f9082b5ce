"""What linking needs to know of one release, and nothing more."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from functools import cached_property
from hashlib import blake2b

import msgspec

from zarbek.core.model.bundle import Alias, Manifest, Scope
from zarbek.core.model.doctext import Deprecation
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol


class SymbolEntry(msgspec.Struct, frozen=True, array_like=True):
    """One symbol in brief. shape: digest of what a caller sees except the name, by which a
    rename is recognised."""

    path: str
    name: str
    kind: str
    parent: str
    module: str
    visibility: str
    shape: str
    summary: str = ""
    file: str = ""
    line: int = 0
    bases: list[str] = []
    deprecated: Deprecation | None = None
    flags: list[str] = []


class PageEntry(msgspec.Struct, frozen=True, array_like=True):
    path: str
    file: str
    title: str
    order: int
    depth: int
    anchors: list[str] = []
    summary: str = ""


def entry_of(symbol: Symbol) -> SymbolEntry:
    doc = symbol.doc
    return SymbolEntry(
        symbol.path, symbol.name, symbol.kind, symbol.parent, symbol.module, symbol.visibility,
        shape_of(symbol), doc.summary if doc else "", symbol.file, symbol.line, symbol.bases,
        doc.deprecated if doc else None, symbol.flags,
    )  # fmt: skip


def page_entry_of(page: Page) -> PageEntry:
    anchors = [h.anchor for h in page.headings]
    return PageEntry(page.path, page.file, page.title, page.order, page.depth, anchors, page.summary)


def shape_of(symbol: Symbol) -> str:
    """8 bytes in hexadecimal; equal for symbols that differ in nothing but name and text."""
    seen = msgspec.msgpack.encode((symbol.kind, symbol.signatures, symbol.type, symbol.value, symbol.bases))
    return blake2b(seen, digest_size=8).hexdigest()


class ReleaseIndex:
    """Lookup by name over one release.

    symbols: by path. aliases: other name to path. scopes: by module. pages: by path.
    """

    def __init__(
        self, project: str, version: str, *, symbols: Iterable[SymbolEntry],
        aliases: Iterable[Alias] = (), scopes: Iterable[Scope] = (),
        pages: Iterable[PageEntry] = (), assets: Iterable[str] = (), manifest: Manifest | None = None,
    ) -> None:  # fmt: skip
        self.project, self.version = project, version
        self.symbols = {entry.path: entry for entry in symbols}
        self.alias_list = list(aliases)
        self.aliases = {alias.name: alias.path for alias in self.alias_list}
        self.scopes = {scope.module: scope for scope in scopes}
        self.pages = {page.path: page for page in pages}
        self.pages_by_file = {page.file: page for page in self.pages.values()}
        self.assets = frozenset(assets)
        self.manifest = manifest or Manifest(format=1, project=project, version=version)

    @cached_property
    def by_last_name(self) -> dict[str, list[str]]:
        """Last segment to the names (paths and aliases) that end in it, in sorted order."""
        found: dict[str, list[str]] = defaultdict(list)
        for name in sorted([*self.symbols, *self.aliases]):
            found[name.rpartition(".")[2]].append(name)
        return found

    @cached_property
    def names_by_path(self) -> dict[str, list[str]]:
        """Path to its other names, sorted; members of an aliased class are not repeated here."""
        found: dict[str, list[str]] = defaultdict(list)
        for name, path in sorted(self.aliases.items()):
            found[path].append(name)
        return found

    @cached_property
    def members(self) -> dict[str, list[str]]:
        """Parent path to the paths of its members, in source order."""
        found: dict[str, list[str]] = defaultdict(list)
        for entry in self.symbols.values():
            found[entry.parent].append(entry.path)
        for paths in found.values():
            paths.sort(key=lambda p: (self.symbols[p].file, self.symbols[p].line, p))
        return found

    def public_names(self, path: str, via: str = "") -> list[str]:
        """Every name by which a symbol can be addressed besides its path, sorted.

        via: the name by which it was found, which may go through an inheriting class.
        """
        names = set(self.names_by_path.get(path, ()))
        if via and via != path:
            owner, _, last = via.rpartition(".")
            owner = self.aliases.get(owner, owner)
            names.update((via, f"{owner}.{last}"))
            names.update(f"{name}.{last}" for name in self.public_names(owner))
        entry = self.symbols.get(path)
        owner_entry = self.symbols.get(entry.parent) if entry is not None and entry.parent else None
        if entry is not None and owner_entry is not None and owner_entry.kind not in ("module", "package"):
            names.update(f"{name}.{entry.name}" for name in self.public_names(entry.parent))
        return sorted(names)
