"""Names that leave out their beginning."""

from __future__ import annotations

from collections.abc import Iterable

from zarbek.core.linking.dependency_trace import Asked
from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.language_profile import LanguageProfile
from zarbek.core.linking.scopes import ScopeLookup
from zarbek.core.linking.targets import (
    TYPE_KINDS,
    Missing,
    Releases,
    Target,
    Wanted,
    beginnings,
    fits,
    fits_exactly,
    shared_parts,
)
from zarbek.core.model.naming import key_of

#: Shorter names are no evidence.
_SHORTEST = 3


class PartialNameLookup(ScopeLookup):
    """Finds symbols of its own release by the end of their names."""

    def __init__(self, own: ReleaseIndex, releases: Releases, profile: LanguageProfile) -> None:
        super().__init__(own, releases, profile)
        self._only_ones: dict[str, tuple[Target | Missing, frozenset[Asked]]] = {}

    def _beside(self, want: Wanted, at: SymbolEntry | None) -> Target | None:
        """A related name beside the element as it is published: in the modules whose public names it bears,
        then in its class and those that have it from there; outward too where nobody can reach it."""
        element = self.own.symbols.get(want.besides)
        if at is None or element is None:
            return None
        is_member = at.kind not in MODULE_KINDS and at.path != element.path
        own = self._published(at if is_member else element)
        heirs = self.own.heirs_of(at.path) if is_member else []
        places = self._modules_of(own)
        if is_member:
            places += [own[0], *self._modules_of(heirs), *heirs]
        elif element.kind in TYPE_KINDS:
            places += own  # Its members come last.
        found = self._first_in(places, want)
        return found or (self._around(want, at) if element.visibility == "private" and not heirs else None)

    def _modules_of(self, names: Iterable[str]) -> list[str]:
        return [module for name in names if (module := self._module_of(name))]

    def _module_of(self, name: str) -> str:
        return next((n for n in beginnings(name) if any(e.kind in MODULE_KINDS for e in self.own.named(n))), "")

    def _around(self, want: Wanted, at: SymbolEntry | None) -> Target | None:
        """A name in what encloses the public names of a symbol, the canonical one first, outward."""
        if at is None or want.key.partition(".")[0] not in self.own.words:
            return None
        return self._first_in([place for name in self._published(at) for place in beginnings(name)], want)

    def _published(self, at: SymbolEntry) -> list[str]:
        """Keys of the names that readers know a symbol by, the canonical one first."""
        outer = self.own.symbols.get(at.parent)
        names = [at.path, *self.own.offered.get(at.path, ())]
        if outer is not None and outer.kind not in MODULE_KINDS:
            names += [f"{name}.{at.name}" for name in self.own.offered.get(outer.path, ())]
        return [key_of(name) for name in names]

    def _first_in(self, places: list[str], want: Wanted) -> Target | None:
        """The first that any of the places has. What nobody has described, and a module, count only where
        nothing else is called so."""
        lesser: list[Target] = []
        head = want.key.partition(".")[0]
        for place in dict.fromkeys(places):
            if f"{place}.{head}" in self.own.imported:
                continue
            found = self.lookup(self.own, f"{place}.{want.key}", 0)
            if isinstance(found, Target) and (fitting := self.choose(found, want)) is not None:
                if want.role == "module" or (fitting.entry.summary and fitting.entry.kind not in MODULE_KINDS):
                    return fitting
                lesser.append(fitting)
        return min(lesser, key=lambda t: t.entry.kind in MODULE_KINDS, default=None)

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

    def _only(self, want: Wanted) -> Target | None:
        """The one public symbol of the project whose name, or the end of it, is the one that was written."""
        if want.key.partition(".")[0] in self.profile.builtins:
            return None
        found = self.trace.remembered(self._only_ones, want.key, lambda: self._only_one(want.key))
        return self.choose(found, want) if isinstance(found, Target) else None

    def _only_one(self, key: str) -> Target | Missing:
        """Cost: up to the second symbol of that name; once a name, wherever it is written."""
        _, dot, last = key.rpartition(".")
        found: Target | None = None
        for name in self.own.by_last_name.get(last, ()) if len(last) >= _SHORTEST else ():
            if not name.endswith(f".{key}") or not isinstance(target := self.lookup(self.own, name, 0), Target):
                continue
            entry = target.entry
            if entry.visibility == "public" and (dot or entry.parent == "" or self._is_top(entry)):
                if found is not None and found.entry.path != entry.path:
                    return Missing("", key)
                found = found or target
        return found or Missing("", key)

    def _is_top(self, entry: SymbolEntry) -> bool:
        outer = self.own.symbols.get(entry.parent)
        return outer is not None and outer.kind in MODULE_KINDS

    def _nearest_suffix(self, name: str, scope_path: str, role: str) -> Target | None:
        is_here = name.partition(".")[0] in self.own.words
        enclosing = key_of(scope_path)
        while enclosing:
            if is_here or ((entry := self.own.symbols.get(enclosing)) is not None and entry.bases):
                found = self.lookup(self.own, f"{enclosing}.{name}", 0)
                if isinstance(found, Target) and fits(found.entry, role) and fits_exactly(found.entry, role):
                    return found
            enclosing = enclosing.rpartition(".")[0]
        if not is_here:
            return None
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
                -shared_parts(key_of(found.entry.path), key_of(scope_path)),
                "bare" in found.entry.flags,
                found.entry.path != name,
                name.count("."),
                name,
            )
            if best is None or rank < best[0]:
                best = (rank, found)
        return best[1] if best else None
