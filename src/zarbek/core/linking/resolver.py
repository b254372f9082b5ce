"""The one resolver: a name in its scope to the symbol that it means.

Order: the enclosing symbols outward with inherited members, the file's imports, wildcard
imports, the project, its dependencies, a namespace that one project of the portal owns.
What differs between languages stands in their profiles.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple, Protocol

from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.profile import PYTHON, Profile, profile_of
from zarbek.core.model.bundle import Scope
from zarbek.core.model.naming import key_of, parameter_types

Outcome = Literal["linked", "outside", "dangling", "ambiguous", "hidden"]
MAX_DEPTH = 30
_NAME = re.compile(r"[A-Za-z_][\w.]*")
TYPE_KINDS = frozenset(
    "class enum exception type interface record struct union trait annotation object delegate primitive concept".split()
)
_SCOPE_KINDS = TYPE_KINDS | MODULE_KINDS
_CALLABLE = frozenset({"function", "method", "constructor", "operator", "macro"})
_VALUES = frozenset({"attribute", "property", "constant", "variable", "field", "member", "event"})
_ROLE_KINDS = {
    "class": TYPE_KINDS,
    "type": _SCOPE_KINDS,
    "function": _CALLABLE | TYPE_KINDS | {"variable", "field"},
    "call": _CALLABLE | TYPE_KINDS,
    "method": _CALLABLE | {"property", "attribute", "variable"},
    "attribute": _VALUES | {"method"},
    "module": MODULE_KINDS,
    "data": _VALUES | {"type"},
    "macro": frozenset({"macro"}),
    "member": _CALLABLE | _VALUES | TYPE_KINDS,
    "primitive": frozenset({"primitive"}),
    "value": _CALLABLE | _VALUES | {"struct"},
}
_EXACT_KINDS = {
    "function": _CALLABLE | {"variable"},
    "call": _CALLABLE,
    "method": frozenset({"method", "constructor", "operator", "function"}) - {"function"},
    "attribute": frozenset({"attribute", "property", "field"}),
}


class Releases(Protocol):
    """The other releases that a name may lead to."""

    def owner_of(self, namespace: str, family: str = "") -> str | None:
        """The slug of the one project that owns a namespace in a family of languages, or None."""

    def index_of(self, project: str) -> ReleaseIndex | None:
        """The release of a project that the linked release depends on, or None."""


class Wanted(NamedTuple):
    """A name as the resolver looks for it. params: simple types of a parameter list, or None."""

    key: str
    role: str = ""
    params: tuple[str, ...] | None = None


@dataclass(frozen=True, slots=True)
class Target:
    """Where a name leads. via: the qualified name by which it was found."""

    index: ReleaseIndex
    entry: SymbolEntry
    via: str


@dataclass(frozen=True, slots=True)
class Missing:
    """Why a name leads nowhere. project: whose namespace it falls into, or empty for nobody's.

    name: the qualified name that was looked for. open: a base outside the portal may have it.
    """

    project: str
    name: str
    open: bool = False
    candidates: tuple[str, ...] = ()


class Resolver:
    """Resolves names for one release and language. Answers are remembered; the resolver is not shared."""

    def __init__(self, own: ReleaseIndex, releases: Releases, profile: Profile = PYTHON) -> None:
        self.own, self.releases, self.profile = own, releases, profile
        self.prefixes = own.manifest.prefixes
        declared = frozenset(own.manifest.namespaces)
        self.roots = declared | {
            _root_of(e) for e in own.symbols.values() if not (declared and e.language in ("c", "cpp"))
        }
        self._memo: dict[tuple[str, str, str, str], Target | Missing] = {}
        self._bases: dict[tuple[int, str], tuple[list[Target], bool]] = {}
        self._lookups: dict[tuple[int, str], Target | bool] = {}
        self._tables: dict[tuple[int, str], tuple[dict[str, list[Target]], bool]] = {}

    def resolve(self, name: str, scope_path: str, role: str = "") -> Target | Missing:
        """name: as its author wrote it. scope_path: the symbol in whose text it stands."""
        entry = self.own.symbols.get(scope_path)
        place = "" if entry is None else entry.file if self.profile.scope == "file" else entry.module
        if entry is not None and entry.kind not in _SCOPE_KINDS:
            scope_path = entry.parent  # A function or value encloses nothing that has a page.
        key = (name, scope_path, role, place)
        found = self._memo.get(key)
        if found is None:
            found = self._memo[key] = self._resolve(name, scope_path, role, place)
        return found

    def _resolve(self, name: str, scope_path: str, role: str, place: str) -> Target | Missing:
        cleaned = clean_name(name)
        if not cleaned.strip("."):
            return Missing("", name)
        head, dot, rest = cleaned.lstrip(".").partition(".")
        if head in self.prefixes:
            return self._resolve_prefixed(self.prefixes[head] + dot + rest, scope_path, role)
        if cleaned.startswith(".") and self.profile.language == "python":
            return self._by_suffix(cleaned, scope_path, role)
        return self._by_scope(self._wanted(name, cleaned, role), scope_path, place)

    def _wanted(self, name: str, cleaned: str, role: str) -> Wanted:
        if self.profile.language == "python":
            return Wanted(cleaned, role)
        if self.profile.types_only and not role and "#" not in name and "(" not in name:
            role = "type"
        elif not role and name.rstrip().endswith("!"):
            role = "macro"
        params = parameter_types(name)
        if not role and params is not None:
            role = "call"
        return Wanted(cleaned.strip("."), role, params)

    # Scopes -------------------------------------------------------------------------------

    def _by_scope(self, want: Wanted, scope_path: str, place: str) -> Target | Missing:
        """place: the file or module whose imports hold, by the language's profile."""
        at = self.own.symbols.get(scope_path)
        scope = self._scope_of(self.own, at, place)
        primitive = self._primitive(want)
        if primitive is not None:
            return primitive
        fallback: list[Target] = []
        missing: list[Missing] = []
        found = self._in_scope(self.own, want, at, scope, fallback, missing, 0) or self._macro(want, at)
        if found is not None:
            return found
        absolute = self.absolute(want.key, 0)
        if isinstance(absolute, Target):
            fitting = self.choose(absolute, want)
            if fitting is not None:
                return fitting
            fallback.append(absolute)
        if fallback and not want.role.startswith(("type", "macro", "call", "primitive")):
            return fallback[0]
        if self.profile.suffix and ("." in want.key or want.role):
            nearby = self._nearby(want, scope_path, is_builtin=want.key.partition(".")[0] in self.profile.builtins)
            if nearby is not None:
                return nearby
        if fallback and want.role == "call" and want.params == ():
            return fallback[0]
        if missing:
            return missing[0]
        lost = self._in_outer_type(want, at, scope) or self._lost_member(want, at, scope)
        if lost is not None:
            return lost
        if want.key.partition(".")[0] in self.profile.builtins:
            return Missing("", want.key)
        return absolute if isinstance(absolute, Missing) else Missing("", want.key)

    def _lost_member(self, want: Wanted, at: SymbolEntry | None, scope: Scope | None) -> Missing | None:
        """A member that its type, which is known, does not have: the author meant that type's."""
        head, dot, last = want.key.rpartition(".")
        if not dot or self.profile.language == "python":
            return None
        owner = self._owner_named(head, at, scope)
        if owner is None or (entry := _container(owner)).kind not in TYPE_KINDS or entry.kind == "type":
            return None
        if last in self.profile.known_members:
            return None
        name = f"{key_of(entry.path)}.{last}"
        known = self.lookup(owner.index, name, 0)
        is_open = known is True or self._inherited(owner.index, entry, 0)[1]
        return Missing(owner.index.project, f"{entry.path}{profile_of(entry.language).separator}{last}", open=is_open)

    def _owner_named(self, name: str, at: SymbolEntry | None, scope: Scope | None) -> Target | None:
        owner = self._in_scope(self.own, Wanted(name, "type"), at, scope, [], [], 0)
        if owner is not None:
            return owner
        absolute = self.absolute(name, 0)
        return absolute if isinstance(absolute, Target) else None

    def _in_outer_type(self, want: Wanted, at: SymbolEntry | None, scope: Scope | None) -> Target | None:
        """A member that stands in a type around the one that is named (Java's documentation comments)."""
        head, dot, last = want.key.rpartition(".")
        owner = self._owner_named(head, at, scope) if dot and self.profile.hides else None
        outer = owner.index.symbols.get(owner.entry.parent) if owner is not None else None
        while owner is not None and outer is not None and outer.kind in TYPE_KINDS:
            found = self.lookup(owner.index, f"{key_of(outer.path)}.{last}", 0)
            if isinstance(found, Target) and (fitting := self.choose(found, want)) is not None:
                return fitting
            outer = owner.index.symbols.get(outer.parent)
        return None

    def _macro(self, want: Wanted, at: SymbolEntry | None) -> Target | None:
        """A macro by its bare name: what is exported stands at the root of a crate."""
        if want.role != "macro" or "." in want.key:
            return None
        roots = (*((key_of(at.module).partition(".")[0],) if at is not None else ()), *self.profile.macro_roots)
        for root in roots:
            found = self.absolute(f"{root}.{want.key}", 0)
            if isinstance(found, Target) and (fitting := self.choose(found, want)) is not None:
                return fitting
        return None

    def _primitive(self, want: Wanted) -> Target | None:
        """A type of the language itself, which goes before a module of its name."""
        if not self.profile.primitives or want.role == "module":
            return None
        head, dot, rest = want.key.partition(".")
        name = self.profile.primitives.get(head)
        if name is None:
            return None
        owner = self.absolute(name, 0)
        if not isinstance(owner, Target) or all(e.kind != "primitive" for e in owner.index.named(name)):
            return None
        found = self.lookup(owner.index, name + dot + rest, 0)
        return self.choose(found, want if rest else Wanted(name, "primitive")) if isinstance(found, Target) else None

    def _nearby(self, want: Wanted, scope_path: str, *, is_builtin: bool) -> Target | None:
        """A symbol of the project whose qualified name ends in the one that was written."""
        if is_builtin and self.profile.language == "python":
            return None
        nearby = self._nearest_suffix(want.key, scope_path, want.role)
        if nearby is None or not ("." in want.key or self._is_plain_enough(nearby, want.role)):
            return None
        return self.choose(nearby, want) or nearby

    def _in_scope(
        self, index: ReleaseIndex, want: Wanted, at: SymbolEntry | None, scope: Scope | None,
        fallback: list[Target], missing: list[Missing], depth: int,
    ) -> Target | None:  # fmt: skip
        """A name as seen from inside a symbol of a release; what almost fits goes to fallback."""
        profile = self._profile_for(at)
        head, _, rest = want.key.partition(".")
        if head in profile.instead and at is not None:
            module = scope.module if scope is not None else at.module
            return self._instead(index, want, profile.instead[head], rest, at, module, depth)
        module = scope.module if scope is not None and profile.scope == "module" else ""
        chain = list(self._enclosing(index, at, profile, module))
        types = [e for e in chain if e.kind not in MODULE_KINDS] if profile.members_first else []
        modules = [e for e in chain if e.kind in MODULE_KINDS]
        steps: list[Iterator[Target | bool]]
        own_modules = (self.lookup(index, f"{key_of(e.path)}.{want.key}", depth) for e in modules)
        imported = self._imported(index, want.key, scope, missing, depth) if scope is not None else iter(())
        in_types = (self.lookup(index, f"{key_of(e.path)}.{want.key}", depth) for e in types)
        steps = [in_types, imported, own_modules] if profile.imports_first else [in_types, own_modules, imported]
        wildcards = self._wildcards(index, want.key, scope, profile, depth)
        for step in (*steps, wildcards):
            for found in step:
                if not isinstance(found, Target):
                    continue
                fitting = self.choose(found, want)
                if fitting is not None and not self._is_own_constructor(fitting, want, at):
                    return fitting
                fallback.append(found)
        return None

    @staticmethod
    def _is_own_constructor(found: Target, want: Wanted, at: SymbolEntry | None) -> bool:
        """A type's bare name inside it is the type, not its constructor."""
        return found.entry.kind == "constructor" and want.role == "" and "." not in want.key and at is not None

    def _profile_for(self, at: SymbolEntry | None) -> Profile:
        return self.profile if at is None or at.language == self.profile.language else profile_of(at.language)

    def _scope_of(self, index: ReleaseIndex, at: SymbolEntry | None, place: str = "") -> Scope | None:
        if at is None:
            return index.file_scopes.get(place) if place else None
        if self._profile_for(at).scope == "file":
            return index.file_scopes.get(place or at.file)
        return index.scopes.get(place or at.module)

    def _enclosing(
        self, index: ReleaseIndex, at: SymbolEntry | None, profile: Profile, place: str = ""
    ) -> Iterator[SymbolEntry]:
        """The symbol and what encloses it, inner first, as far as its language looks.

        place: the module in which the text stands, where a type's members may stand elsewhere.
        """
        module = at.module if at is not None else ""
        if place and place != module:
            if at is not None and at.kind not in MODULE_KINDS:
                yield at
            at, module = index.symbols.get(place), place
        for _ in range(MAX_DEPTH):
            if at is None:
                return
            is_module = at.kind in MODULE_KINDS
            if not is_module or profile.outward or at.path == module or at.kind == "module":
                yield at
            if is_module and not profile.outward:
                return
            at = index.symbols.get(at.parent)

    def _instead(
        self, index: ReleaseIndex, want: Wanted, place: str, rest: str, at: SymbolEntry, module: str, depth: int
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
        if not isinstance(found, Target):
            return self._imported_below(index, base, rest, want, depth) if rest else None
        return self.choose(found, want) or found

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

    @staticmethod
    def _is_plain_enough(found: Target, role: str) -> bool:
        """Whether a name without any context may mean a symbol elsewhere in its project."""
        entry = found.entry
        return entry.visibility == "public" and fits_exactly(entry, role) and entry.parent == entry.module

    def _imported(
        self, index: ReleaseIndex, key: str, scope: Scope, missing: list[Missing], depth: int
    ) -> Iterator[Target | bool]:
        head, dot, rest = key.partition(".")
        target = scope.imports.get(head)
        if target is None:
            return
        found = self._from(index, target + dot + rest, depth + 1)
        if isinstance(found, Missing):
            missing.append(found)
        else:
            yield found

    def _wildcards(
        self, index: ReleaseIndex, key: str, scope: Scope | None, profile: Profile, depth: int
    ) -> Iterator[Target | bool]:
        for module in (*(scope.wildcards if scope is not None else ()), *profile.implicit):
            found = self._from(index, f"{module}.{key}", depth + 1)
            if isinstance(found, Target):
                yield found

    def _from(self, index: ReleaseIndex, key: str, depth: int) -> Target | Missing:
        """A qualified name as a release sees it: its own first, then the portal's."""
        if index is not self.own and depth < MAX_DEPTH:
            found = self.lookup(index, key, depth)
            if isinstance(found, Target):
                return found
        return self.absolute(key, depth)

    def absolute(self, key: str, depth: int) -> Target | Missing:
        """A qualified name, wherever in the portal its namespace is owned."""
        if depth > MAX_DEPTH:
            return Missing("", key)
        if self._is_own(key):
            found = self.lookup(self.own, key, depth)
            if isinstance(found, Target):
                return found
            return Missing(self.own.project, self._spelt(key), open=found)
        project = self._owner_of(key)
        if project is None or project == self.own.project:
            return Missing("", key)
        index = self.releases.index_of(project)
        if index is None:
            return Missing("", key)
        found = self.lookup(index, key, depth)
        return found if isinstance(found, Target) else Missing(project, self._spelt(key), open=found)

    def _spelt(self, key: str) -> str:
        """A key as the language writes it."""
        separator = self.profile.separator
        return key if separator == "." else key.replace(".", separator)

    def _is_own(self, key: str) -> bool:
        return any(name in self.roots and self._is_below(name, key) for name in _beginnings(key))

    def _is_below(self, namespace: str, key: str) -> bool:
        """Whether a namespace answers for a key: packages of the JVM do not hold one another."""
        rest = key[len(namespace) + 1 :]
        return self.profile.nests or not rest or not rest[0].islower()

    def _owner_of(self, key: str) -> str | None:
        for name in _beginnings(key):
            owner = self.releases.owner_of(name, self.profile.family)
            if owner is not None:
                return owner if self._is_below(name, key) else None
        return None

    # Several symbols of one name ----------------------------------------------------------

    def choose(self, found: Target, want: Wanted) -> Target | None:
        """The one of a name's symbols that the author asked for: by kind, then by parameters.

        Without parameters a value goes before functions, and the first declared before others
        (Java: JavaDoc's own rule; C++: the common case).
        """
        if self.profile.language == "python":
            return found if fits(found.entry, want.role) else None
        candidates = [self._spoken(t) for t in self._candidates(found)]
        fitting = [t for t in candidates if fits(t.entry, want.role)]
        if not fitting:
            return None
        if want.params is None:
            return min(fitting, key=lambda t: t.entry.kind in _CALLABLE)
        chosen = _by_parameters(fitting, want.params)
        if chosen is None and not self.profile.hides:
            return fitting[0]
        return chosen

    def _spoken(self, found: Target) -> Target:
        """An override without a text of its own stands for what it overrides."""
        entry = found.entry
        if "untold" not in entry.flags:
            return found
        owner = found.index.symbols.get(entry.parent)
        if owner is None:
            return found
        table, _ = self._inherited(found.index, owner, 0)
        params = parameter_types(entry.path)
        for base in table.get(entry.name, ()):
            if parameter_types(base.entry.path) == params:
                shown = base.entry.visibility in ("public", "protected")
                return base if shown and base.entry.summary else found
        return found

    def _candidates(self, found: Target) -> list[Target]:
        key = key_of(found.entry.path)
        family = self.profile.family
        same = [
            Target(found.index, e, found.via) for e in found.index.named(key)
            if not family or profile_of(e.language).family == family
        ]  # fmt: skip
        owner = found.index.symbols.get(found.entry.parent)
        if owner is None or owner.kind not in TYPE_KINDS or found.entry.kind not in _CALLABLE:
            return same
        table, _ = self._inherited(found.index, owner, 0)
        return same + table.get(found.entry.name, [])

    # One release --------------------------------------------------------------------------

    def lookup(self, index: ReleaseIndex, name: str, depth: int) -> Target | bool:
        """A key in one release, through aliases and inheritance; else whether something outside
        may still have it."""
        key = (id(index), name)
        found = self._lookups.get(key)
        if found is None:
            found = self._lookup(index, name, depth)
            if depth < MAX_DEPTH // 2:  # Deeper answers may have been cut short.
                self._lookups[key] = found
        return found

    def _lookup(self, index: ReleaseIndex, name: str, depth: int) -> Target | bool:
        entries = index.named(name)
        path = index.aliases.get(name)
        if entries and (path is None or entries[0].kind not in MODULE_KINDS):
            return Target(index, entries[0], name)
        if path is not None and path in index.symbols:
            return Target(index, index.symbols[path], name)
        if entries:
            return Target(index, entries[0], name)
        head, dot, last = name.rpartition(".")
        if not dot or depth > MAX_DEPTH:
            return False
        owner = self.lookup(index, head, depth + 1)
        if not isinstance(owner, Target):
            return owner
        entry = _container(owner)
        if key_of(entry.path) != head:
            direct = owner.index.named(f"{key_of(entry.path)}.{last}")
            if direct:
                return Target(owner.index, direct[0], name)
            if entry.kind in MODULE_KINDS:
                found = self.lookup(owner.index, f"{key_of(entry.path)}.{last}", depth + 1)
                if isinstance(found, Target):
                    return replace(found, via=name)
        if entry.kind in MODULE_KINDS:
            return self._through_import(owner.index, entry, last, depth)
        return self._member(owner.index, entry, last, name, depth)

    def _through_import(self, index: ReleaseIndex, module: SymbolEntry, last: str, depth: int) -> Target | bool:
        """A name that a module imports from another project, or from outside."""
        profile = self._profile_for(module)
        if "open" in module.flags:
            return True
        scope = index.scopes.get(module.path)
        if scope is None or profile.scope == "file":
            return False
        target = scope.imports.get(last)
        root = key_of(module.path).partition(".")[0]
        if target is None or target.partition(".")[0] == root:
            return any(w.partition(".")[0] != root for w in scope.wildcards)
        found = self.absolute(target, depth + 1)
        return found if isinstance(found, Target) else True

    def _member(self, index: ReleaseIndex, owner: SymbolEntry, last: str, via: str, depth: int) -> Target | bool:
        if depth > MAX_DEPTH or owner.kind not in TYPE_KINDS:
            return owner.kind == "variable"
        table, is_open = self._inherited(index, owner, depth)
        found = table.get(last)
        return Target(found[0].index, found[0].entry, via) if found else is_open

    def inherited_members(self, index: ReleaseIndex, owner: SymbolEntry) -> dict[str, list[Target]]:
        """Members of all bases by name, nearest base first."""
        return self._inherited(index, owner, 0)[0]

    def _inherited(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> tuple[dict[str, list[Target]], bool]:
        """What a class has from its bases, nearest first, and whether it may have more.

        Cost: once a class, the number of its inherited members.
        """
        key = (id(index), owner.path)
        known = self._tables.get(key)
        if known is not None:
            return known
        bases, is_open = self.bases_of(index, owner, depth)
        hooks = self._profile_for(owner).dynamic
        is_open = is_open or any(f"{owner.path}.{hook}" in index.symbols for hook in hooks)
        is_open = is_open or owner.path in index.specialised
        table: dict[str, list[Target]] = {}
        self._tables[key] = (table, is_open)  # A cycle of bases ends here.
        for base in bases:
            for path in base.index.members.get(base.entry.path, ()):
                entry = base.index.symbols[path]
                if entry.kind != "constructor":
                    table.setdefault(entry.name, []).append(Target(base.index, entry, path))
                if "unscoped" in entry.flags:  # Its values belong to what encloses it, too (C++20, [dcl.enum]).
                    for inner in base.index.members.get(path, ()):
                        value = base.index.symbols[inner]
                        table.setdefault(value.name, []).append(Target(base.index, value, inner))
            further, further_open = self._inherited(base.index, base.entry, depth + 1)
            is_open = is_open or further_open
            for name, targets in further.items():
                table.setdefault(name, []).extend(targets)
        self._tables[key] = (table, is_open)
        return table, is_open

    def bases_of(self, index: ReleaseIndex, owner: SymbolEntry, depth: int = 0) -> tuple[list[Target], bool]:
        """The bases that are known, in order, and whether any lies outside the portal."""
        key = (id(index), owner.path)
        known = self._bases.get(key)
        if known is not None:
            return known
        self._bases[key] = ([], False)  # A cycle of bases ends here.
        found: list[Target] = []
        is_open = False
        for base in self._base_names(owner):
            name = base_name(base)
            if name in ("object", "Generic", "Protocol", "typing.Generic", "typing.Protocol"):
                continue
            target = self._base_target(index, owner, name, depth + 1)
            if target is None and re.split(r"[.:]+", name)[-1] in self._profile_for(owner).known_bases:
                continue
            if target is None or target.entry.kind not in TYPE_KINDS:
                is_open = True
            else:
                found.append(target)
        implied = self._profile_for(owner).implied_bases.get(owner.kind)
        if implied and implied != key_of(owner.path):
            target_or_missing = self._from(index, implied, depth + 1)
            if isinstance(target_or_missing, Target):
                found.append(target_or_missing)
        self._bases[key] = (found, is_open)
        return found, is_open

    def _base_names(self, owner: SymbolEntry) -> list[str]:
        """The bases as written; those handed to a call that makes a base count as well."""
        names: list[str] = []
        for base in owner.bases:
            names.append(base)
            _, paren, inside = base.partition("(")
            if paren and owner.language == "python":
                names += [part.strip() for part in inside.rstrip(")").split(",") if _NAME.fullmatch(part.strip())]
        return names

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

    # Names without their beginning --------------------------------------------------------

    def _resolve_prefixed(self, name: str, scope_path: str, role: str) -> Target | Missing:
        """A name whose prefix the project explained: there, else by its last parts below it."""
        found = self.absolute(name, 0)
        if isinstance(found, Target):
            return found
        parts = name.split(".")
        for start in range(len(parts) - 1, 0, -1):
            package = ".".join(parts[:start])
            if package in self.own.symbols:
                suffix = "." + ".".join(parts[start:])
                inside = [n for n in self._suffix_names(suffix, role) if n.startswith(package + ".")]
                best = self._nearest(inside, package, role)
                return best if best is not None else found
        return found

    def _by_suffix(self, name: str, scope_path: str, role: str) -> Target | Missing:
        best = self._nearest_suffix(name.lstrip("."), scope_path, role)
        if best is not None:
            return best
        head, _, last = name.rpartition(".")
        owners = self._suffix_names(head, "class") if head.strip(".") else []
        is_open = any(self.lookup(self.own, f"{owner}.{last}", 0) is True for owner in owners)
        return Missing(self.own.project, name.lstrip("."), open=is_open)

    def _nearest_suffix(self, name: str, scope_path: str, role: str) -> Target | None:
        enclosing = key_of(scope_path)
        while enclosing:
            found = self.lookup(self.own, f"{enclosing}.{name}", 0)
            if isinstance(found, Target) and fits(found.entry, role) and fits_exactly(found.entry, role):
                return found
            enclosing = enclosing.rpartition(".")[0]
        return self._nearest(self._suffix_names("." + name, role), scope_path, role)

    def _suffix_names(self, suffix: str, role: str) -> list[str]:
        """Names of the release that end in the suffix, inherited members included."""
        head, _, last = suffix.rpartition(".")
        names = [n for n in self.own.by_last_name.get(last, ()) if n.endswith(suffix) or "." + n == suffix]
        if not names and head:
            for owner in self._suffix_names(head, "class"):
                found = self.lookup(self.own, f"{owner}.{last}", 0)
                if isinstance(found, Target):
                    names.append(f"{owner}.{last}")
        return names

    def _nearest(self, names: list[str], scope_path: str, role: str) -> Target | None:
        best: tuple[tuple[object, ...], Target] | None = None
        for name in names:
            found = self.lookup(self.own, name, 0)
            if not isinstance(found, Target):
                continue
            rank = (
                not fits(found.entry, role),
                not fits_exactly(found.entry, role),
                found.entry.visibility == "private",
                -_shared_parts(key_of(found.entry.path), key_of(scope_path)),
                "bare" in found.entry.flags,
                found.entry.path != name,
                name.count("."),
                name,
            )
            if best is None or rank < best[0]:
                best = (rank, found)
        return best[1] if best else None


def _root_of(entry: SymbolEntry) -> str:
    """What a symbol says of the names that are its release's own."""
    if entry.language == "python":
        return entry.path.partition(".")[0]
    return key_of(entry.path) if entry.kind in MODULE_KINDS or not entry.parent else key_of(entry.module)


def _container(found: Target) -> SymbolEntry:
    """Of the symbols of one name, the one that can have members."""
    if found.entry.kind in _SCOPE_KINDS:
        return found.entry
    same = found.index.named(key_of(found.entry.path))
    return next((e for e in same if e.kind in _SCOPE_KINDS), found.entry)


def _beginnings(key: str) -> Iterator[str]:
    """The key and what encloses it, longest first; slashes separate too (Go, packages of npm)."""
    while key:
        yield key
        key = key[: max(key.rfind("."), key.rfind("/"), 0)]


def _by_parameters(candidates: list[Target], params: tuple[str, ...]) -> Target | None:
    """The overload with these parameter types: all of them, else as many and most alike."""
    listed = [(t, parameter_types(t.entry.path)) for t in candidates]
    for target, types in listed:
        if types == params:
            return target
    loose = tuple(p.lower() for p in params)
    best: tuple[int, Target] | None = None
    for target, types in listed:
        if types is None:
            return target if not params else best[1] if best else target
        if len(types) != len(params):
            continue
        equal = sum(_is_like(a.lower(), b) for a, b in zip(types, loose, strict=True))
        if equal == len(params) and (best is None or equal > best[0]):
            best = (equal, target)
    return best[1] if best else None


def _is_like(declared: str, written: str) -> bool:
    """Whether a written type may be the declared one: a type variable is written as its bound."""
    return declared == written or (len(declared.rstrip("[]")) == 1 and declared.count("[") == written.count("["))


def base_name(base: str) -> str:
    """A base without type arguments and calls: ``Map<K, V>.Entry<K>`` is ``Map.Entry``."""
    shorter = ""
    while "<" in base and shorter != base:
        shorter, base = base, re.sub(r"<[^<>]*>", "", base)
    return base.partition("[")[0].partition("(")[0].strip()


def clean_name(name: str) -> str:
    """The key of a name as written: without call parentheses, title mark, kind and blanks."""
    name = name.strip().removeprefix("~")
    head, paren, _ = name.partition("(")
    if "operator" in head:
        return key_of(name).strip()
    head = (head if paren else name).replace(" ", "").replace("\n", "")
    if "<" in head:
        head = base_name(head)
    return key_of(head)


def fits(entry: SymbolEntry, role: str) -> bool:
    """Whether a symbol is of the kind that the author asked for."""
    kinds = _ROLE_KINDS.get(role)
    return kinds is None or entry.kind in kinds


def fits_exactly(entry: SymbolEntry, role: str) -> bool:
    """Whether a symbol is of the very kind asked for, where a wider one would do too."""
    kinds = _EXACT_KINDS.get(role)
    return kinds is None or entry.kind in kinds


def _shared_parts(left: str, right: str) -> int:
    count = 0
    for a, b in zip(left.split("."), right.split("."), strict=False):
        if a != b:
            break
        count += 1
    return count
