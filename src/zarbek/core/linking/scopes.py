"""Names as seen from inside a symbol: enclosing symbols, imports, wildcards, other projects."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from zarbek.core.linking.dependency_trace import RELEASES, Asked
from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.language_profile import LanguageProfile
from zarbek.core.linking.release_lookup import ReleaseLookup
from zarbek.core.linking.targets import (
    MAX_DEPTH,
    TYPE_KINDS,
    Missing,
    Releases,
    Target,
    Wanted,
    beginnings,
    fits_exactly,
)
from zarbek.core.model.bundle import Scope
from zarbek.core.model.example import EXAMPLE
from zarbek.core.model.naming import key_of

#: Languages whose types get members when they run.
_LOOSE = frozenset({"python", "javascript"})
#: Languages in which a project may add to what is another's: its manifest tells which names are its own.
OPEN_NAMESPACES = frozenset({"c", "cpp", "csharp", "java", "kotlin"})


#: What encloses a place, inner first: types, how the keys of their members begin, and those of modules' members.
_Chain = tuple[list[SymbolEntry], list[str], list[str]]


class ScopeLookup(ReleaseLookup):
    """Looks names up in the scopes of one release, its own, and from there in others."""

    def __init__(self, own: ReleaseIndex, releases: Releases, profile: LanguageProfile) -> None:
        super().__init__(profile)
        self.own, self.releases = own, releases
        self._absolutes: dict[str, tuple[Target | Missing, frozenset[Asked]]] = {}
        self._chains: dict[tuple[int, str, str], _Chain] = {}
        declared, provides = frozenset(own.manifest.namespaces), own.manifest.provides
        told = {p for p, names in provides.items() if names} & OPEN_NAMESPACES if provides else set[str]()
        if declared and not provides:
            told = set(OPEN_NAMESPACES)
        self.roots = declared | {_root_of(e) for e in own.symbols.values() if e.language not in told}
        self.roots |= {
            name for name, path in own.aliases.items()
            if "." not in name and (e := own.symbols.get(path)) is not None and e.language in OPEN_NAMESPACES - told
        }  # fmt: skip

    def is_foreign(self, index: ReleaseIndex) -> bool:
        """Whether an index is not the release's own."""
        return index is not self.own

    def _in_scope(
        self, index: ReleaseIndex, want: Wanted, at: SymbolEntry | None, scope: Scope | None,
        fallback: list[Target], missing: list[Missing], depth: int,
    ) -> Target | None:  # fmt: skip
        """A name as seen from inside a symbol of a release; what almost fits goes to fallback."""
        profile = self._profile_for(at)
        head, _, rest = want.key.partition(".")
        if head in profile.instead and at is not None:
            module = scope.module if scope is not None else at.module
            return self._instead(index, want, profile.instead[head], rest, at, module, missing, depth)
        module = scope.module if scope is not None and profile.scope == "module" else ""
        types, inside, modules = self._chain(index, at, profile, module)
        if not self.is_foreign(index) and head not in index.words:
            inside = [f"{key_of(e.path)}." for e in types if self._has_from_others(index, e, depth)]
            modules = []
        chosen = self._fitting(self._below(index, inside, want.key, depth), want, at, fallback)
        if chosen is None and not profile.imports_first:
            chosen = self._fitting(self._below(index, modules, want.key, depth), want, at, fallback)
        if chosen is None and scope is not None:
            imported = self._imported(index, want.key, scope, missing, depth)
            chosen = self._fitting(imported, want, at, fallback)
        if chosen is None and profile.imports_first:
            chosen = self._fitting(self._below(index, modules, want.key, depth), want, at, fallback)
        if chosen is None:
            wildcards = self._wildcards(index, want.key, scope, profile, depth)
            chosen = self._fitting(wildcards, want, at, fallback)
        return chosen

    def _below(self, index: ReleaseIndex, prefixes: list[str], key: str, depth: int) -> Iterator[Target | bool]:
        """prefixes: keys, each with what stands between it and a member's name."""
        return (self.lookup(index, prefix + key, depth) for prefix in prefixes)

    def _fitting(
        self, all_found: Iterable[Target | bool], want: Wanted, at: SymbolEntry | None, fallback: list[Target]
    ) -> Target | None:
        for found in all_found:
            if isinstance(found, Target):
                fitting = self.choose(found, want)
                if fitting is not None and not self._is_own_constructor(fitting, want, at):
                    return fitting
                fallback.append(found)
        return None

    def _chain(self, index: ReleaseIndex, at: SymbolEntry | None, profile: LanguageProfile, module: str) -> _Chain:
        key = (id(index), at.path if at is not None else "", module)
        known = self._chains.get(key)
        if known is None:
            around = list(self._enclosing(index, at, profile, module))
            types = [e for e in around if e.kind not in MODULE_KINDS] if profile.members_first else []
            modules = [f"{key_of(e.path)}." for e in around if e.kind in MODULE_KINDS]
            known = self._chains[key] = (types, [f"{key_of(e.path)}." for e in types], modules)
        return known

    def _has_from_others(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> bool:
        """Whether a type may have members that other releases declare."""
        if owner.language == "kotlin" or len(index.named(key_of(owner.path))) > 1:
            return True
        return any(self.is_foreign(base.index) for base in self.line_of(index, owner, depth)[0])

    @staticmethod
    def _is_own_constructor(found: Target, want: Wanted, at: SymbolEntry | None) -> bool:
        """A type's bare name inside it is the type, not its constructor."""
        return found.entry.kind == "constructor" and want.role == "" and "." not in want.key and at is not None

    def _scope_of(self, index: ReleaseIndex, at: SymbolEntry | None, place: str = "") -> Scope | None:
        if at is None:
            return index.file_scopes.get(place) if place else None
        if self._profile_for(at).scope == "file":
            return index.file_scopes.get(place or at.file)
        return index.scopes.get(place or at.module)

    def _enclosing(
        self, index: ReleaseIndex, at: SymbolEntry | None, profile: LanguageProfile, place: str = ""
    ) -> Iterator[SymbolEntry]:
        """The symbol and what encloses it, inner first, as far as its language looks.

        place: the module in which the text stands, where a type's members may stand elsewhere.
        """
        module = at.module if at is not None else ""
        if place and place != module:
            if at is not None and at.kind not in MODULE_KINDS:
                yield at
            at, module = index.module_at(place), place
        is_inside = True
        for _ in range(MAX_DEPTH):
            if at is None:
                return
            is_module = at.kind in MODULE_KINDS
            if is_module and is_inside:
                at, is_inside = index.module_at(module) or at, False  # Where it stands, not where it is offered.
            if not is_module or profile.sees_enclosing or at.path == module or at.kind == "module":
                yield at
            if is_module and not profile.sees_enclosing:
                return
            at = self._around_example(index, at, profile) if at.kind == EXAMPLE else index.symbols.get(at.parent)

    @staticmethod
    def _around_example(index: ReleaseIndex, at: SymbolEntry, profile: LanguageProfile) -> SymbolEntry | None:
        """The module of an example; of one that only tests have, the one around it, where its language sees outward."""
        name, found = at.module, index.module_at(at.module)
        while found is None and name and profile.sees_enclosing:
            name = name.rpartition(profile.separator)[0]
            found = index.module_at(name)
        return found

    def _instead(
        self, index: ReleaseIndex, want: Wanted, place: str, rest: str, at: SymbolEntry, module: str,
        missing: list[Missing], depth: int
    ) -> Target | None:  # fmt: skip
        """``Self``, ``self``, ``super`` and ``crate``: a place in the tree of modules."""
        if place == "type":
            base = next((key_of(e.path) for e in self._enclosing(index, at, self.profile)
                         if e.kind not in MODULE_KINDS), "")  # fmt: skip
        elif place == "root":
            base = key_of(module).partition(".")[0]
        else:
            base = key_of(module)
            parents = 1 if place == "parent" else 0
            while rest.partition(".")[0] == "super":
                rest, parents = rest.partition(".")[2], parents + 1
            for _ in range(parents):
                base = base.rpartition(".")[0]
        if not base:
            return None
        found = self.lookup(index, f"{base}.{rest}" if rest else base, depth)
        if isinstance(found, Target):
            return self.choose(found, want) or found
        below = self._imported_below(index, base, rest, want, depth) if rest else None
        if below is None and rest and index is self.own:
            missing.append(Missing(index.project, self._spelt(f"{base}.{rest}"), open=found))
        return below

    def _imported_below(self, index: ReleaseIndex, base: str, rest: str, want: Wanted, depth: int) -> Target | None:
        """A name that another module of the project has only imported."""
        scope = index.scopes.get(base.replace(".", "::")) or index.scopes.get(base)
        if scope is None:
            return None
        missing: list[Missing] = []
        for found in (*self._imported(index, rest, scope, missing, depth),
                      *self._wildcards(index, rest, scope, self.profile, depth)):  # fmt: skip
            if isinstance(found, Target):
                return self.choose(found, want) or found
        return None

    def _is_plain_enough(self, found: Target, role: str) -> bool:
        """Whether a name without any context may mean a symbol elsewhere in its project."""
        entry = found.entry
        outer = found.index.symbols.get(entry.parent)
        is_top = entry.parent == entry.module or (outer is not None and outer.kind in MODULE_KINDS)
        return entry.visibility == "public" and fits_exactly(entry, role) and is_top

    def _imported(
        self, index: ReleaseIndex, key: str, scope: Scope, missing: list[Missing], depth: int
    ) -> Iterator[Target | bool]:
        head, dot, rest = key.partition(".")
        if self.is_foreign(index):
            self.trace.ask(index.project, f"{key_of(scope.module)}.{head}")
        target = scope.imports.get(head)
        if target is None:
            return
        found = self._from(index, target + dot + rest, depth + 1)
        if not isinstance(found, Missing):
            yield found
        elif found.project == self.own.project and rest and self._has_lost(index, target, depth):
            missing.append(found)
        elif found.project in ("", self.own.project):  # The code has it from there, wherever it is made.
            missing.append(Missing("", found.name, open=True))
        else:
            missing.append(found)

    def _has_lost(self, index: ReleaseIndex, target: str, depth: int) -> bool:
        """Whether what is imported is a type that is there: then it is its member that is not."""
        found = self._from(index, target, depth + 1)
        return isinstance(found, Target) and found.entry.kind in TYPE_KINDS and found.entry.language not in _LOOSE

    def _wildcards(
        self, index: ReleaseIndex, key: str, scope: Scope | None, profile: LanguageProfile, depth: int
    ) -> Iterator[Target | bool]:
        if scope is not None and self.is_foreign(index):
            self.trace.ask_members(index.project, key_of(scope.module))
        for module in (*(scope.wildcards if scope is not None else ()), *profile.implicit):
            found = self._from(index, f"{module}.{key}", depth + 1)
            if isinstance(found, Target):
                yield found

    def opens_foreign(self, scope: Scope | None, name: str = "") -> bool:
        """Whether a file, or its language, opens a namespace that nobody in the portal owns: any bare name
        may come from there, or the one that is given."""
        if self.profile.family == "c":
            return True  # The headers of the system, and what they include.
        known = self.profile.implicit_names
        implicit = () if name and known and name not in known else self.profile.implicit
        opened = (*(scope.wildcards if scope is not None else ()), *implicit)
        return any(not self.is_own_name(name) and self._owner_of(name)[1] is None for name in opened)

    def _from(self, index: ReleaseIndex, key: str, depth: int) -> Target | Missing:
        """A qualified name as a release sees it: its own first, then the portal's."""
        if index is not self.own and depth < MAX_DEPTH:
            found = self.lookup(index, key, depth)
            if isinstance(found, Target):
                return found
        return self.absolute(key, depth)

    def absolute(self, key: str, depth: int) -> Target | Missing:
        """A qualified name, wherever in the portal its namespace is owned."""
        if depth:
            return self._absolute(key, depth) if depth <= MAX_DEPTH else Missing("", key)
        return self.trace.remembered(self._absolutes, key, lambda: self._absolute(key, 0))

    def _absolute(self, key: str, depth: int) -> Target | Missing:
        if self.is_own_name(key):
            found = self.lookup(self.own, key, depth)
            if isinstance(found, Target):
                return found
            return Missing(self.own.project, self._spelt(key), open=found)
        namespace, project = self._owner_of(key)
        if project is None or project == self.own.project:
            return Missing("", key)
        index = self.releases.index_of(project)
        if index is None:
            self.trace.ask(project, RELEASES)
            return Missing("", key)
        found = self.lookup(index, key, depth)
        if isinstance(found, Target):
            return found
        if self.releases.is_contested(namespace, self.profile.family):
            return Missing("", key)  # It may well be another's who says that the name is his.
        return Missing(project, self._spelt(key), open=found)

    def _spelt(self, key: str) -> str:
        """A key as the language writes it."""
        separator = self.profile.separator
        return key if separator == "." else key.replace(".", separator)

    def is_own_name(self, key: str) -> bool:
        """Whether a name lies below a namespace of the release's own."""
        enclosing = beginnings(key)
        if self.roots.isdisjoint(enclosing):
            return False
        return self.profile.nests or any(name in self.roots and self._is_below(name, key) for name in enclosing)

    def _is_below(self, namespace: str, key: str) -> bool:
        """Whether a namespace answers for a key: packages of the JVM do not hold one another."""
        rest = key[len(namespace) + 1 :]
        return self.profile.nests or not rest or not rest[0].islower()

    def _owner_of(self, key: str) -> tuple[str, str | None]:
        """(namespace, project) of the owner of a name, the project None for nobody."""
        self.trace.ask_nobody(key, self.profile.family)
        for name in beginnings(key):
            owner = self.releases.owner_of(name, self.profile.family)
            if owner is not None:
                return name, owner if self._is_below(name, key) else None
        return "", None

    def _base_target(self, index: ReleaseIndex, owner: SymbolEntry, name: str, depth: int) -> Target | None:
        if not name or depth > MAX_DEPTH:
            return None
        at = index.symbols.get(owner.parent)
        want = Wanted(key_of(name), "class")
        fallback: list[Target] = []
        found = self._in_scope(index, want, at or owner, self._scope_of(index, owner), fallback, [], depth)
        if found is not None and found.entry.path != owner.path:
            return found
        absolute = self._from(index, want.key, depth)
        if isinstance(absolute, Target) and absolute.entry.path != owner.path:
            return self.choose(absolute, want) or absolute
        return next((t for t in fallback if t.entry.path != owner.path), None)


def _root_of(entry: SymbolEntry) -> str:
    """What a symbol says of the names that are its release's own."""
    if entry.language == "python":
        return entry.path.partition(".")[0]
    if entry.language in OPEN_NAMESPACES and not key_of(entry.path).startswith(key_of(entry.module) + "."):
        return key_of(entry.path).partition(".")[0]  # What is declared in a header is everybody's.
    return key_of(entry.path) if entry.kind in MODULE_KINDS or not entry.parent else key_of(entry.module)
