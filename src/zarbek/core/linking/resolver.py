"""The one resolver: a name in its scope to the symbol that it means.

Order: the enclosing symbols outward with inherited members, the file's imports, wildcard
imports, the project, its dependencies, a namespace that one project of the portal owns.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal, Protocol

from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.linking.profile import PYTHON, Profile
from zarbek.core.model.bundle import Scope

Outcome = Literal["linked", "outside", "dangling", "ambiguous", "hidden"]
MAX_DEPTH = 30
_NAME = re.compile(r"[A-Za-z_][\w.]*")
_TYPE_KINDS = frozenset({"class", "enum", "exception", "type", "interface"})
_SCOPE_KINDS = _TYPE_KINDS | {"module", "package"}
_ROLE_KINDS = {
    "class": _TYPE_KINDS,
    "function": frozenset({"function", "method", "class", "exception", "enum", "variable"}),
    "method": frozenset({"method", "function", "property", "attribute", "variable"}),
    "attribute": frozenset({"attribute", "property", "constant", "variable", "method"}),
    "module": frozenset({"module", "package"}),
    "data": frozenset({"constant", "variable", "attribute", "type"}),
}
_EXACT_KINDS = {
    "function": frozenset({"function", "variable"}),
    "method": frozenset({"method"}),
    "attribute": frozenset({"attribute", "property"}),
}


class Releases(Protocol):
    """The other releases that a name may lead to."""

    def owner_of(self, namespace: str) -> str | None:
        """The slug of the one project that owns a top-level name, or None."""

    def index_of(self, project: str) -> ReleaseIndex | None:
        """The release of a project that the linked release depends on, or None."""


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
    """Resolves names for one release. Answers are remembered; the resolver is not shared."""

    def __init__(self, own: ReleaseIndex, releases: Releases, profile: Profile = PYTHON) -> None:
        self.own, self.releases, self.profile = own, releases, profile
        self.prefixes = own.manifest.prefixes
        self.roots = frozenset(own.manifest.namespaces) | {p.partition(".")[0] for p in own.symbols}
        self._memo: dict[tuple[str, str, str], Target | Missing] = {}
        self._bases: dict[tuple[int, str], tuple[list[Target], bool]] = {}
        self._lookups: dict[tuple[int, str], Target | bool] = {}
        self._tables: dict[tuple[int, str], tuple[dict[str, Target], bool]] = {}

    def resolve(self, name: str, scope_path: str, role: str = "") -> Target | Missing:
        """name: as its author wrote it. scope_path: the symbol in whose text it stands."""
        entry = self.own.symbols.get(scope_path)
        if entry is not None and entry.kind not in _SCOPE_KINDS:
            scope_path = entry.parent  # A function or value encloses nothing that has a page.
        key = (name, scope_path, role)
        found = self._memo.get(key)
        if found is None:
            found = self._memo[key] = self._resolve(name, scope_path, role)
        return found

    def _resolve(self, name: str, scope_path: str, role: str) -> Target | Missing:
        cleaned = clean_name(name)
        if not cleaned.strip("."):
            return Missing("", name)
        is_relative = cleaned.startswith(".")
        head, dot, rest = cleaned.lstrip(".").partition(".")
        if head in self.prefixes:
            return self._resolve_prefixed(self.prefixes[head] + dot + rest, scope_path, role)
        if is_relative:
            return self._by_suffix(cleaned, scope_path, role)
        return self._by_scope(cleaned, scope_path, role)

    # Scopes -------------------------------------------------------------------------------

    def _by_scope(self, name: str, scope_path: str, role: str) -> Target | Missing:
        own = self.own
        fallback: Target | None = None
        enclosing = scope_path
        while enclosing:
            entry = own.symbols.get(enclosing)
            if entry is not None and not (entry.kind == "package" and entry.path != self._module(scope_path)):
                found = self.lookup(own, f"{enclosing}.{name}", 0)
                if isinstance(found, Target):
                    if fits(found.entry, role):
                        return found
                    fallback = fallback or found
                if entry.kind in ("module", "package"):
                    break
            enclosing = enclosing.rpartition(".")[0]
        scope = own.scopes.get(self._module(scope_path))
        missing: Missing | None = None
        if scope is not None:
            imported = self._by_import(name, scope)
            if isinstance(imported, Target):
                return imported
            missing = imported
        absolute = self.absolute(name, 0)
        if isinstance(absolute, Target):
            return absolute
        if fallback is not None:
            return fallback
        if missing is not None:
            return missing
        if name.partition(".")[0] in self.profile.builtins:
            return Missing("", name)
        if "." in name or role:
            nearby = self._nearest_suffix(name, scope_path, role)
            if nearby is not None and ("." in name or self._is_plain_enough(nearby, role)):
                return nearby
        return absolute

    @staticmethod
    def _is_plain_enough(found: Target, role: str) -> bool:
        """Whether a name without any context may mean a symbol elsewhere in its project."""
        entry = found.entry
        return entry.visibility == "public" and fits_exactly(entry, role) and entry.parent == entry.module

    def _module(self, path: str) -> str:
        entry = self.own.symbols.get(path)
        return entry.module if entry is not None else path

    def _by_import(self, name: str, scope: Scope) -> Target | Missing | None:
        head, dot, rest = name.partition(".")
        target = scope.imports.get(head)
        if target is not None:
            return self.absolute(target + dot + rest, 0)
        for module in scope.wildcards:
            found = self.absolute(f"{module}.{name}", 0)
            if isinstance(found, Target):
                return found
        return None

    def absolute(self, name: str, depth: int) -> Target | Missing:
        """A qualified name, wherever in the portal its namespace is owned."""
        root = name.partition(".")[0]
        if root in self.roots:
            found = self.lookup(self.own, name, depth)
            if isinstance(found, Target):
                return found
            return Missing(self.own.project, name, open=found)
        project = self.releases.owner_of(root)
        if project is None or project == self.own.project:
            return Missing("", name)
        index = self.releases.index_of(project)
        if index is None:
            return Missing("", name)
        found = self.lookup(index, name, depth)
        return found if isinstance(found, Target) else Missing(project, name, open=found)

    # One release --------------------------------------------------------------------------

    def lookup(self, index: ReleaseIndex, name: str, depth: int) -> Target | bool:
        """A qualified name in one release, through aliases and inheritance; else whether
        something outside may still have it."""
        key = (id(index), name)
        found = self._lookups.get(key)
        if found is None:
            found = self._lookup(index, name, depth)
            if depth < MAX_DEPTH // 2:  # Deeper answers may have been cut short.
                self._lookups[key] = found
        return found

    def _lookup(self, index: ReleaseIndex, name: str, depth: int) -> Target | bool:
        entry = index.symbols.get(name)
        path = index.aliases.get(name)
        if entry is not None and (path is None or entry.kind not in ("module", "package")):
            return Target(index, entry, name)
        if path is not None and path in index.symbols:
            return Target(index, index.symbols[path], name)
        head, dot, last = name.rpartition(".")
        if not dot or depth > MAX_DEPTH:
            return False
        owner = self.lookup(index, head, depth + 1)
        if not isinstance(owner, Target):
            return owner
        if owner.entry.path != head:
            direct = owner.index.symbols.get(f"{owner.entry.path}.{last}")
            if direct is not None:
                return Target(owner.index, direct, name)
        if owner.entry.kind in ("module", "package"):
            return self._through_import(owner.index, owner.entry, last, depth)
        return self._member(owner.index, owner.entry, last, name, depth)

    def _through_import(self, index: ReleaseIndex, module: SymbolEntry, last: str, depth: int) -> Target | bool:
        """A name that a module imports from another project, or from outside."""
        scope = index.scopes.get(module.path)
        if scope is None:
            return False
        target = scope.imports.get(last)
        if target is None or target.partition(".")[0] == module.path.partition(".")[0]:
            return any(w.partition(".")[0] != module.path.partition(".")[0] for w in scope.wildcards)
        found = self.absolute(target, depth + 1)
        return found if isinstance(found, Target) else True

    def _member(self, index: ReleaseIndex, owner: SymbolEntry, last: str, via: str, depth: int) -> Target | bool:
        if depth > MAX_DEPTH or owner.kind not in _TYPE_KINDS:
            return owner.kind == "variable"
        table, is_open = self._inherited(index, owner, depth)
        found = table.get(last)
        return Target(found.index, found.entry, via) if found is not None else is_open

    def _inherited(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> tuple[dict[str, Target], bool]:
        """What a class has from its bases, nearest first, and whether it may have more.

        Cost: once a class, the number of its inherited members.
        """
        key = (id(index), owner.path)
        known = self._tables.get(key)
        if known is not None:
            return known
        bases, is_open = self.bases_of(index, owner, depth)
        is_open = is_open or any(f"{owner.path}.{hook}" in index.symbols for hook in self.profile.dynamic)
        table: dict[str, Target] = {}
        self._tables[key] = (table, is_open)  # A cycle of bases ends here.
        for base in bases:
            for path in base.index.members.get(base.entry.path, ()):
                entry = base.index.symbols[path]
                table.setdefault(entry.name, Target(base.index, entry, path))
            further, further_open = self._inherited(base.index, base.entry, depth + 1)
            is_open = is_open or further_open
            for name, target in further.items():
                table.setdefault(name, target)
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
            name = base.partition("[")[0].partition("(")[0].strip()
            if name in ("object", "Generic", "Protocol", "typing.Generic", "typing.Protocol"):
                continue
            target = self._base_target(index, owner, name, depth + 1)
            if target is None or target.entry.kind not in _TYPE_KINDS:
                is_open = True
            else:
                found.append(target)
        self._bases[key] = (found, is_open)
        return found, is_open

    def _base_names(self, owner: SymbolEntry) -> list[str]:
        """The bases as written; those handed to a call that makes a base count as well."""
        names: list[str] = []
        for base in owner.bases:
            names.append(base)
            _, paren, inside = base.partition("(")
            if paren:
                names += [part.strip() for part in inside.rstrip(")").split(",") if _NAME.fullmatch(part.strip())]
        return names

    def _base_target(self, index: ReleaseIndex, owner: SymbolEntry, name: str, depth: int) -> Target | None:
        for enclosing in (owner.parent, owner.module):
            found = self.lookup(index, f"{enclosing}.{name}", depth)
            if isinstance(found, Target) and found.entry.path != owner.path:
                return found
        scope = index.scopes.get(owner.module)
        head, dot, rest = name.partition(".")
        candidates = [name]
        if scope is not None:
            candidates = [f"{w}.{name}" for w in scope.wildcards] + candidates
            if head in scope.imports:
                candidates.insert(0, scope.imports[head] + dot + rest)
        for candidate in candidates:
            if candidate.partition(".")[0] == index.project or index is not self.own:
                found = self.lookup(index, candidate, depth)
                if isinstance(found, Target) and found.entry.path != owner.path:
                    return found
            absolute = self.absolute(candidate, depth)
            if isinstance(absolute, Target) and absolute.entry.path != owner.path:
                return absolute
        return None

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
        enclosing = scope_path
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
                -_shared_parts(found.entry.path, scope_path),
                "bare" in found.entry.flags,
                found.entry.path != name,
                name.count("."),
                name,
            )
            if best is None or rank < best[0]:
                best = (rank, found)
        return best[1] if best else None


def clean_name(name: str) -> str:
    """A name without call parentheses, title mark and blanks."""
    name = name.strip().removeprefix("~")
    head, paren, _ = name.partition("(")
    return (head if paren else name).replace(" ", "").replace("\n", "")


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
