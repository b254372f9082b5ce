"""What linking needs to know of one release, and nothing more."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from functools import cached_property
from hashlib import blake2b

import msgspec

from zarbek.core.model.bundle import Alias, Manifest, Scope
from zarbek.core.model.doctext import Deprecation, Doc
from zarbek.core.model.interface import Interface
from zarbek.core.model.naming import enclosing_of, key_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol


class SymbolEntry(msgspec.Struct, frozen=True, array_like=True):
    """One symbol in brief. shape: digest of what a caller sees except the name, by which a
    rename is recognised; body: digest of its source text without its name, empty where that is
    too short to tell; said: digest of its text; anchors: parts of it that can be addressed."""

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
    language: str = "python"
    body: str = ""
    said: str = ""
    anchors: list[str] = []


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
        doc.deprecated if doc else None, symbol.flags, symbol.language, symbol.body,
        _said(doc) if doc else "", anchors_of(symbol.interface) if symbol.interface else [],
    )  # fmt: skip


def anchors_of(interface: Interface) -> list[str]:
    """What an address may name after ``#``: statuses and parameters of an operation, properties of a schema."""
    operation, schema = interface.operation, interface.schema
    if operation is not None:
        names = [a.status for a in operation.answers] + [p.name for p in operation.parameters]
        return [*names, "request"] if operation.body else names
    parts = [schema, *(s for s in (schema or {}).get("allOf", ()) if isinstance(s, dict))] if schema else []
    return list(dict.fromkeys(str(name) for part in parts if part for name in part.get("properties", {})))


def _said(doc: Doc) -> str:
    """8 bytes in hexadecimal; equal for texts that differ in nothing but their lines."""
    groups = (doc.parameters, doc.type_parameters, doc.returns, doc.yields, doc.raises, doc.attributes)
    fields = [(f.name, f.type, f.text) for group in groups for f in group]
    seen = msgspec.msgpack.encode((doc.summary, doc.body, fields, doc.sections))
    return blake2b(seen, digest_size=8).hexdigest()


def page_entry_of(page: Page) -> PageEntry:
    anchors = [h.anchor for h in page.headings]
    return PageEntry(page.path, page.file, page.title, page.order, page.depth, anchors, page.summary)


def shape_of(symbol: Symbol) -> str:
    """8 bytes in hexadecimal; equal for symbols that differ in nothing but name and text."""
    signatures = [(s.parameters, s.returns, s.type_parameters) for s in symbol.signatures]
    seen = msgspec.msgpack.encode((symbol.kind, signatures, symbol.type, symbol.value, symbol.bases))
    if symbol.interface is not None:
        seen += msgspec.msgpack.encode(symbol.interface)
    return blake2b(seen, digest_size=8).hexdigest()


#: Kinds that are a file's or a namespace's, not a type's.
MODULE_KINDS = frozenset({"module", "package", "namespace", "api"})


class ReleaseIndex:
    """Lookup by name over one release. Keys are those of ``naming.key_of``.

    symbols: by path. aliases: key of another name to path. scopes: by module.
    file_scopes: by file. pages: by path.
    """

    def __init__(
        self, project: str, version: str, *, symbols: Iterable[SymbolEntry],
        aliases: Iterable[Alias] = (), scopes: Iterable[Scope] = (),
        pages: Iterable[PageEntry] = (), assets: Iterable[str] = (), manifest: Manifest | None = None,
    ) -> None:  # fmt: skip
        self.project, self.version = project, version
        self.symbols = {entry.path: entry for entry in symbols}
        self.alias_list = list(aliases)
        self.aliases = {key_of(alias.name): alias.path for alias in self.alias_list}
        self.scopes: dict[str, Scope] = {}
        self.file_scopes: dict[str, Scope] = {}
        for scope in scopes:
            self.scopes.setdefault(scope.module, scope)
            self.file_scopes[scope.file] = scope
        self.pages = {page.path: page for page in pages}
        self.pages_by_file = {page.file: page for page in self.pages.values()}
        self.assets = frozenset(assets)
        self.manifest = manifest or Manifest(format=1, project=project, version=version)
        self.keyed = self._keyed()

    def _keyed(self) -> dict[str, list[SymbolEntry]]:
        """Key to its symbols in source order; symbols whose path is their key alone are left out."""
        found: dict[str, list[SymbolEntry]] = defaultdict(list)
        for entry in self.symbols.values():
            if entry.language != "python":
                found[key_of(entry.path)].append(entry)
        for entries in found.values():
            if len(entries) > 1:
                entries.sort(key=lambda e: (e.file, e.line))
        return dict(found)

    def named(self, key: str) -> list[SymbolEntry]:
        """The symbols of a key: overloads in source order, or what a language keeps apart by kind."""
        found = self.keyed.get(key)
        if found is not None:
            return found
        entry = self.symbols.get(key)
        return [entry] if entry is not None else []

    @cached_property
    def specialised(self) -> frozenset[str]:
        """Paths of the templates of C++ that have more members in some specialisation."""
        return frozenset(
            path.partition("<")[0] for path, e in self.symbols.items() if e.language == "cpp" and e.name.endswith(">")
        )

    @cached_property
    def by_last_name(self) -> dict[str, list[str]]:
        """Last segment to the keys (of paths and aliases) that end in it, in sorted order."""
        found: dict[str, list[str]] = defaultdict(list)
        keys = {p for p, e in self.symbols.items() if e.language == "python"}
        for name in sorted(keys.union(self.keyed, self.aliases)):
            found[name.rpartition(".")[2]].append(name)
        return found

    @cached_property
    def names_by_path(self) -> dict[str, list[str]]:
        """Path to its other names, sorted; members of an aliased class are not repeated here."""
        found: dict[str, list[str]] = defaultdict(list)
        for alias in sorted(self.alias_list, key=lambda a: a.name):
            found[alias.path].append(alias.name)
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
        entry = self.symbols.get(path)
        if entry is None:
            return sorted(names)
        if entry.language != "python":
            return sorted(names | self._spelt_names(entry, via))
        if via and via != path:
            owner, _, last = via.rpartition(".")
            owner = self.aliases.get(owner, owner)
            names.update((via, f"{owner}.{last}"))
            names.update(f"{name}.{last}" for name in self.public_names(owner))
        owner_entry = self.symbols.get(entry.parent) if entry.parent else None
        if owner_entry is not None and owner_entry.kind not in MODULE_KINDS:
            names.update(f"{name}.{entry.name}" for name in self.public_names(entry.parent))
        return sorted(names)

    def _spelt_names(self, entry: SymbolEntry, via: str) -> set[str]:
        """Other names of a symbol whose language spells names in its own way: those of its parent
        with its last part, and the one by which it was found."""
        names = {via} if via and via != key_of(entry.path) else set()
        if entry.parent and entry.parent in self.symbols:
            rest = entry.path[len(entry.parent) :]
            names.update(name + rest for name in self.public_names(entry.parent))
        if via:
            owner, last = enclosing_of(via), via.rpartition(".")[2]
            found = self.aliases.get(owner) or next((e.path for e in self.named(owner)), "")
            if found and found != entry.parent:
                names.update(f"{name}.{last}" for name in (found, *self.public_names(found)))
        if entry.path.endswith("!"):  # A macro's name is written with and without its mark.
            names.update(
                [name.removesuffix("!") for name in (entry.path, *names, *self.names_by_path.get(entry.path, ()))]
            )
        return names
