"""What linking needs to know of one release, and nothing more."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable
from functools import cached_property
from hashlib import blake2b

import msgspec

from zarbek.core.model.bundle import Alias, Manifest, Scope
from zarbek.core.model.datamodel import DataModel
from zarbek.core.model.doc_text import INHERIT, Deprecation, Doc
from zarbek.core.model.given_types import given_types
from zarbek.core.model.interface import Interface
from zarbek.core.model.naming import enclosing_of, key_of
from zarbek.core.model.page import Caption, Heading, Hidden, Named, Page, label_key
from zarbek.core.model.symbol import Symbol
from zarbek.core.model.visibility import KEPT_LEVELS

_HEIRS = frozenset({"class", "exception", "enum", "interface", "struct"})
_MOST_HEIRS = 100


class SymbolEntry(msgspec.Struct, frozen=True, array_like=True):
    """One symbol in brief. shape: digest of what a caller sees except the name, by which a
    rename is recognised; body: digest of its source text without its name, empty where that is
    too short to tell; said: digest of its text; anchors: parts of it that can be addressed;
    through: types, as written where it stands, whose members can be named through it; variants: flags by which
    editions have it or not; gives: the type of what a function gives, as written where it stands, if a class;
    gives_each: the same for each of several."""

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
    through: list[str] = []
    variants: list[str] = []
    gives: str = ""
    gives_each: str = ""


class PageEntry(msgspec.Struct, frozen=True, array_like=True):
    """A guide, as far as links need it. order, depth: in the contents. anchors: those that a link may lead to. said:
    digest of its words. moved_to: path of the page to which it sends its readers. headings: of a page whose parts have
    numbers, or to which others refer by label; labels, captions, formerly, hidden: as of the page. supplements:
    addresses of what a supplement is for."""

    path: str
    file: str
    title: str
    order: int
    depth: int
    anchors: list[str] = []
    summary: str = ""
    said: str = ""
    moved_to: str = ""
    numbered: bool = False
    headings: list[Heading] = []
    captions: list[Caption] = []
    labels: list[Named] = []
    formerly: list[str] = []
    hidden: list[Hidden] = []
    supplements: list[str] = []
    variants: list[str] = []


def entry_of(symbol: Symbol) -> SymbolEntry:
    """What linking needs of a symbol."""
    doc = symbol.doc
    return SymbolEntry(
        symbol.path, symbol.name, symbol.kind, symbol.parent, symbol.module, symbol.visibility,
        shape_of(symbol), doc.summary.replace(INHERIT, "").strip() if doc else "",
        symbol.file, symbol.line, symbol.bases,
        doc.deprecated if doc else None, symbol.flags, symbol.language, symbol.body,
        _said(doc, symbol.data), anchors_of(symbol.interface) if symbol.interface else [], symbol.through,
        symbol.variants, *given_types(symbol),
    )  # fmt: skip


def variants_of(element: Symbol | SymbolEntry) -> list[str]:
    """Flags by which editions have an element or not, with ``=LEVEL`` for one that not all readers see."""
    level = element.visibility
    return [*element.variants, *([f"={level}"] if level in KEPT_LEVELS else [])]


def anchors_of(interface: Interface) -> list[str]:
    """What an address may name after ``#``: statuses and parameters of an operation, properties of a schema."""
    operation, schema = interface.operation, interface.schema
    if operation is not None:
        names = [a.status for a in operation.answers] + [p.name for p in operation.parameters]
        return [*names, "request"] if operation.body else names
    parts = [schema, *(s for s in (schema or {}).get("allOf", ()) if isinstance(s, dict))] if schema else []
    return list(dict.fromkeys(str(name) for part in parts if part for name in part.get("properties", {})))


def _said(doc: Doc | None, data: DataModel | None) -> str:
    """8 bytes in hexadecimal; equal for texts that differ in nothing but their lines. The query that makes a table is a
    text of its own."""
    query = data.table.query if data is not None and data.table is not None else None
    if doc is None:
        return digest_of_words(query.compiled or query.written) if query is not None else ""
    groups = (doc.parameters, doc.type_parameters, doc.returns, doc.yields, doc.raises, doc.attributes)
    fields = [(f.name, f.type, f.text) for group in groups for f in group]
    seen = msgspec.msgpack.encode((doc.summary, doc.body, fields, doc.sections))
    seen += (query.compiled or query.written).encode(errors="replace") if query is not None else b""
    return blake2b(seen, digest_size=8).hexdigest()


def digest_of_words(text: str) -> str:
    """8 bytes in hexadecimal; equal for texts of the same words."""
    return blake2b(" ".join(text.split()).encode(errors="replace"), digest_size=8).hexdigest()


def page_entry_of(page: Page) -> PageEntry:
    """What linking needs of a guide."""
    anchors = [anchor for anchor in (*(h.anchor for h in page.headings), *page.anchors) if anchor]
    said = page.said or digest_of_words(page.text)
    is_told = page.numbered or page.labels
    return PageEntry(
        page.path, page.file, page.title, page.order, page.depth, anchors, page.summary, said, page.moved_to,
        page.numbered, page.headings if is_told else [], page.captions, page.labels, page.formerly, page.hidden,
        page.supplement.targets if page.supplement is not None else [], page.variants,
    )  # fmt: skip


def shape_of(symbol: Symbol) -> str:
    """8 bytes in hexadecimal; equal for symbols that differ in nothing but name and text."""
    signatures = [(s.parameters, s.returns, s.type_parameters) for s in symbol.signatures]
    seen = msgspec.msgpack.encode((symbol.kind, signatures, symbol.type, symbol.value, symbol.bases))
    if symbol.interface is not None:
        seen += msgspec.msgpack.encode(symbol.interface)
    if symbol.data is not None:
        seen += msgspec.msgpack.encode(_noticed(symbol.data))
    if symbol.kind == "block":  # It is nothing but its text.
        seen += msgspec.msgpack.encode(symbol.doc)
    return blake2b(seen, digest_size=8).hexdigest()


def _noticed(data: DataModel) -> list[object]:
    """What readers and writers of a table notice: not how it is made, nor what is said of it."""
    table, column = data.table, data.column
    if table is not None:
        return [table.row, table.keys, [check.text for check in table.checks]]
    if column is not None:
        return [column.nullable, column.default, column.computed, [check.text for check in column.checks]]
    return [data.macro.body if data.macro is not None else ""]


#: Kinds that are a file's or a namespace's, not a type's.
MODULE_KINDS = frozenset({"module", "package", "namespace", "api", "topic", "database"})


def folded(names: Iterable[str]) -> dict[str, str]:
    """Names by their small letters; several that differ in case only are none."""
    found: dict[str, str] = {}
    for name in names:
        key = name.lower()
        found[key] = "" if key in found else name
    return found


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
        self._places: dict[str, frozenset[str]] = {}
        self._folded_places: dict[str, dict[str, str]] = {}
        self._own_members: dict[str, dict[str, list[SymbolEntry]]] = {}

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

    def has_name(self, name: str) -> bool:
        """Whether a qualified name, in any spelling, is that of a symbol or page, or another name of one."""
        if name in self.symbols or name in self.aliases or name in self.pages:
            return True
        key = key_of(name)
        if self.named(key) or key in self.aliases:
            return True
        head, _, last = key.rpartition(".")
        return head in self.aliases and bool(self.named(f"{key_of(self.aliases[head])}.{last}"))

    def module_at(self, place: str) -> SymbolEntry | None:
        """The module, package or namespace of a place of definition."""
        found = self.symbols.get(place)
        return found if found is not None else self.symbols.get(self.aliases.get(key_of(place), ""))

    def places_of(self, page: str) -> frozenset[str]:
        """The places of a page, by its path: some pages have very many, and very many links lead to them."""
        if page not in self._places:
            self._places[page] = frozenset(self.pages[page].anchors)
        return self._places[page]

    @cached_property
    def labels(self) -> dict[str, tuple[str, str]]:
        """Label of the guides, as a key, to path and anchor of its place; of several the first in the contents."""
        found: dict[str, tuple[str, str]] = {}
        for page in sorted(self.pages.values(), key=lambda p: (p.order < 0, p.order, p.path)):
            for label in page.labels:
                found.setdefault(label_key(label.name), (page.path, label.anchor))
        return found

    @cached_property
    def former_pages(self) -> dict[str, str]:
        """Path at which a guide was before to the one that it has now."""
        return {was: page.path for page in self.pages.values() for was in page.formerly if was not in self.pages}

    @cached_property
    def _folded_files(self) -> dict[str, str]:
        return folded([*self.pages_by_file, *self.assets])

    def file_like(self, file: str) -> str:
        """The one page or file whose name differs from this in case only, or empty."""
        return self._folded_files.get(file.lower(), "")

    def place_like(self, page: str, place: str) -> str:
        """The one place of a page, by its path, that differs from this in case only, or empty."""
        if page not in self._folded_places:
            self._folded_places[page] = folded(self.places_of(page))
        return self._folded_places[page].get(place.lower(), "")

    @cached_property
    def words(self) -> frozenset[str]:
        """All parts of names that anything here has or that a file imports: what begins otherwise is not here."""
        names = {*self.keyed, *self.aliases, *self.symbols}
        found = {name.rpartition(".")[2] for name in names}
        for outer in {name.rpartition(".")[0] for name in names}:
            found.update(outer.split("."))
        found.update(e.name for e in self.symbols.values())
        for scope in (*self.scopes.values(), *self.file_scopes.values()):
            found.update(scope.imports)
        return frozenset(found)

    @cached_property
    def public_words(self) -> list[str]:
        """Names of all public symbols, without what they stand in, sorted."""
        return sorted({e.name for e in self.symbols.values() if e.visibility == "public"})

    @cached_property
    def macro_words(self) -> frozenset[str]:
        """Words that macros may have declared as names."""
        return frozenset(word for scope in self.file_scopes.values() for word in scope.made)

    @cached_property
    def misplaced(self) -> frozenset[str]:
        """Names in files of C and C++ of which a part could not be read: they may belong to another place."""
        files = {scope.file for scope in self.file_scopes.values() if scope.made and scope.language in ("c", "cpp")}
        return frozenset(e.name for e in self.symbols.values() if e.file in files) if files else frozenset()

    @cached_property
    def specialised(self) -> frozenset[str]:
        """Paths of the templates of C++ that have more members in some specialisation."""
        return frozenset(
            path.partition("<")[0] for path, e in self.symbols.items() if e.language == "cpp" and e.name.endswith(">")
        )

    @cached_property
    def by_last_name(self) -> dict[str, list[str]]:
        """Last segment to the keys (of paths and public names) that end in it, in sorted order."""
        found: dict[str, list[str]] = defaultdict(list)
        keys = {p for p, e in self.symbols.items() if e.language == "python"}
        known = (key_of(a.name) for a in self.alias_list if a.public or a.is_origin)
        for name in sorted(keys.union(self.keyed, known)):
            found[name.rpartition(".")[2]].append(name)
        return found

    @cached_property
    def offered(self) -> dict[str, list[str]]:
        """Path to its other public names, sorted; members of an aliased class are not repeated here."""
        found: dict[str, list[str]] = defaultdict(list)
        for alias in sorted(self.alias_list, key=lambda a: a.name):
            if alias.public:
                found[alias.path].append(alias.name)
        return found

    @cached_property
    def offered_names(self) -> frozenset[str]:
        """Keys of other names that their authors mean to be used."""
        return frozenset(key_of(a.name) for a in self.alias_list if a.is_offered)

    @cached_property
    def _offered_paths(self) -> frozenset[str]:
        return frozenset(a.path for a in self.alias_list if a.is_offered)

    @cached_property
    def imported(self) -> frozenset[str]:
        """Keys of names that a module only has because it uses them."""
        return frozenset(key_of(a.name) for a in self.alias_list if not a.public and not a.is_origin)

    @cached_property
    def origins(self) -> dict[str, str]:
        """Path to the place of the definition, where that is another."""
        return {alias.path: alias.name for alias in self.alias_list if alias.is_origin}

    def _own_names(self, path: str) -> list[str]:
        origin = self.origins.get(path)
        entry = self.symbols.get(path)
        if entry is not None and entry.kind == "topic":
            return [entry.name]
        return [*self.offered.get(path, ()), *([origin] if origin else ())]

    @cached_property
    def heirs(self) -> dict[str, list[str]]:
        """Path of a type to the types of this release that have its members: those that name it as a base,
        or hand on its members."""
        found: dict[str, list[str]] = defaultdict(list)
        for entry in self.symbols.values():
            if entry.kind in _HEIRS or entry.through:
                for base in (*entry.bases, *entry.through):
                    path = self.named_in_module(entry.module, key_of(base.partition("[")[0]))
                    if path and path != entry.path:
                        found[path].append(entry.path)
        return found

    def named_in_module(self, module: str, name: str) -> str:
        """Path of what a name at the top of a module stands for; empty for what is not of this release."""
        head, dot, rest = name.partition(".")
        scope = self.scopes.get(module)
        target = (scope.imports.get(head, "") if scope else "") or f"{key_of(module)}.{head}"
        key = target + dot + rest
        return self.aliases.get(key) or next((e.path for e in self.named(key)), "")

    def is_offered(self, entry: SymbolEntry) -> bool:
        """Whether a package offers a symbol, or what it is a member of, rather than the file that holds it."""
        outer = self.symbols.get(entry.parent)
        if entry.path in self._offered_paths or outer is None:
            return entry.path in self._offered_paths
        return outer.kind == "package" or (outer.kind not in MODULE_KINDS and self.is_offered(outer))

    def heirs_of(self, path: str, member: str = "") -> list[str]:
        """Names of the offered types that have the members of a type, nearest first; with a member, of
        those that do not replace it."""
        found: list[str] = []
        pending = list(self.heirs.get(path, ()))
        for heir in pending:
            if member and f"{heir}.{member}" in self.symbols:
                continue
            if len(pending) < _MOST_HEIRS:
                pending += [h for h in self.heirs.get(heir, ()) if h not in pending]
            if self.is_offered(self.symbols[heir]):
                outer = self.symbols[heir].parent
                found += [heir, *self.offered.get(heir, ())]
                found += [f"{name}.{self.symbols[heir].name}" for name in self.offered.get(outer, ())]
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

    def own_members(self, path: str) -> dict[str, list[SymbolEntry]]:
        """Name to the members of a type that heirs have from it, in source order. Made once a type."""
        known = self._own_members.get(path)
        if known is None:
            known = self._own_members[path] = self._members_by_name(path)
        return known

    def _members_by_name(self, path: str) -> dict[str, list[SymbolEntry]]:
        found: dict[str, list[SymbolEntry]] = {}
        for member in self.members.get(path, ()):
            entry = self.symbols[member]
            if entry.kind != "constructor":
                found.setdefault(entry.name, []).append(entry)
            if "unscoped" in entry.flags:  # Its values belong to what encloses it, too (C++20, [dcl.enum]).
                for inner in self.members.get(member, ()):
                    found.setdefault(self.symbols[inner].name, []).append(self.symbols[inner])
        return found

    def public_names(self, path: str, via: str = "") -> list[str]:
        """Every name by which a symbol can be addressed besides its path, sorted.

        via: the name by which it was found, which may go through an inheriting class.
        """
        names = set(self._own_names(path))
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
            if not self.is_offered(owner_entry):
                names.update(f"{heir}.{entry.name}" for heir in self.heirs_of(owner_entry.path, entry.name))
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
            names.update([name.removesuffix("!") for name in (entry.path, *names, *self._own_names(entry.path))])
        return names
