"""The one resolver: a name in its scope to the symbol that it means.

Order: the enclosing symbols outward with inherited members, the file's imports, wildcard
imports, the project, its dependencies, a namespace that one project of the portal owns.
What differs between languages stands in their profiles.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from zarbek.core.linking.dependency_trace import Asked
from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.language_profile import PYTHON, LanguageProfile, profile_of
from zarbek.core.linking.partial_names import PartialNameLookup
from zarbek.core.linking.targets import (
    SCOPE_KINDS,
    TYPE_KINDS,
    VALUES,
    Missing,
    Releases,
    Target,
    Wanted,
    clean_name,
    container,
)
from zarbek.core.model.bundle import Scope
from zarbek.core.model.example import CALLED, EXAMPLE
from zarbek.core.model.given_types import BY_TYPE
from zarbek.core.model.naming import key_of, parameter_types

_GIVEN = re.compile(rf"\.(?:{'|'.join(sorted(BY_TYPE))})(?=\.)")


@dataclass(slots=True, eq=False)
class Place:
    """What names are seen from. path: of the innermost type or module around the text, which is ``at`` where
    the release has it. besides: as in Wanted. known: what was resolved here, by name and role."""

    path: str
    at: SymbolEntry | None
    scope: Scope | None
    besides: str
    known: dict[tuple[str, str], tuple[Target | Missing, frozenset[Asked]]] = field(default_factory=dict)


class Resolver(PartialNameLookup):
    """Resolves names for one release and language. Answers are remembered; the resolver is not shared."""

    def __init__(self, own: ReleaseIndex, releases: Releases, profile: LanguageProfile = PYTHON) -> None:
        super().__init__(own, releases, profile)
        self.prefixes = own.manifest.prefixes
        self._places: dict[tuple[str, str, str], Place] = {}

    def resolve(self, name: str, scope_path: str, role: str = "", *, is_related: bool = False) -> Target | Missing:
        """name: as its author wrote it. scope_path: the symbol in whose text it stands. is_related: whether
        it stands in a list of related names."""
        place = self._place_of(scope_path, is_related=is_related)
        return self.trace.remembered(place.known, (name, role), lambda: self._resolve(name, role, place))

    def _place_of(self, scope_path: str, *, is_related: bool) -> Place:
        """What names in the text of a symbol are seen from."""
        entry = self.own.symbols.get(scope_path)
        place = "" if entry is None else entry.file if self.profile.scope == "file" else entry.module
        is_listed = is_related and self.profile.language == "python"
        besides = scope_path if is_listed and entry is not None and entry.kind not in MODULE_KINDS else ""
        if entry is not None and entry.kind not in SCOPE_KINDS and entry.kind != EXAMPLE:
            scope_path = entry.parent  # A function or value encloses nothing that has a page.
        key = (scope_path, place, besides)
        known = self._places.get(key)
        if known is None:
            at = self.own.symbols.get(scope_path)
            known = self._places[key] = Place(scope_path, at, self._scope_of(self.own, at, place), besides)
        return known

    def _resolve(self, name: str, role: str, place: Place) -> Target | Missing:
        cleaned = clean_name(name)
        if not cleaned.strip("."):
            return Missing("", name)
        head, dot, rest = cleaned.lstrip(".").partition(".")
        if head in self.prefixes:
            return self._resolve_prefixed(self.prefixes[head] + dot + rest, place.path, role)
        if self.profile.language == "python":
            if cleaned.startswith("."):
                return self._by_suffix(cleaned, place.path, role)
            return self._by_scope(Wanted(cleaned, role, None, place.besides), place)
        return self._by_scope(self._wanted(name, cleaned, role), place)

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

    def only(self, name: str, role: str = "") -> Target | None:
        """The one public symbol of the project whose name, or the end of it, is the one that was written."""
        return self._only(self._wanted(name, clean_name(name), role))

    # Scopes -------------------------------------------------------------------------------

    def _by_scope(self, want: Wanted, place: Place) -> Target | Missing:
        at, scope = place.at, place.scope
        settled = self._without_scope(want, place)
        if settled is not None:
            return settled
        if want.besides and self.profile.around:
            return self._beside(want, at) or self._elsewhere(want, at, scope)
        fallback: list[Target] = []
        missing: list[Missing] = []
        found = self._in_scopes(want, place, fallback, missing)
        if found is not None:
            return found
        absolute = self.absolute(want.key, 0)
        if isinstance(absolute, Target):
            fitting = self.choose(absolute, want)
            if fitting is not None:
                return fitting
            fallback.append(absolute)
        best = self._almost(want, place.path, fallback)
        if best is not None:
            return best
        if missing:
            return missing[0]
        last = self._last_resort(want, at, scope)
        if last is not None:
            return last
        return absolute if isinstance(absolute, Missing) else Missing("", want.key)

    def _without_scope(self, want: Wanted, place: Place) -> Target | Missing | None:
        """What its form says: a primitive, or something of what something else gives."""
        if want.role == CALLED and "__" in want.key and (cut := _GIVEN.search(want.key)) is not None:
            return self._of_given(want, cut, place)
        return self._primitive(want) if self.profile.primitives else None

    def _of_given(self, want: Wanted, cut: re.Match[str], place: Place) -> Target | Missing:
        """What something gives is known by its type alone. cut: what stands for that in the name."""
        owner = self.resolve(want.key[: cut.start()], place.path, want.role)
        if isinstance(owner, Target):
            found = self.lookup(owner.index, key_of(owner.entry.path) + want.key[cut.start() :], 0)
            if isinstance(found, Target):
                fitting = self.choose(found, want)
                if fitting is not None or found.entry.kind in VALUES:
                    return fitting or found
        return Missing("", want.key, open=True)

    def _in_scopes(self, want: Wanted, place: Place, fallback: list[Target], missing: list[Missing]) -> Target | None:
        """In the language's scopes, then around the public names of the documented element."""
        found = self._in_scope(self.own, want, place.at, place.scope, fallback, missing, 0)
        if found is None and want.role == "macro":
            found = self._macro(want, place.at)
        if found is None and self.profile.around and want.role != CALLED:
            found = self._around(want, place.at)
        return found

    def _almost(self, want: Wanted, scope_path: str, fallback: list[Target]) -> Target | None:
        """What is there under the name but is of another kind, or stands elsewhere in the project."""
        if want.role == CALLED:
            return self._almost_called(want, scope_path, fallback)
        if fallback and not want.role.startswith(("type", "macro", "call", "primitive")):
            return fallback[0]
        if self.profile.suffix and ("." in want.key or want.role):
            nearby = self._nearby(want, scope_path)
            if nearby is not None:
                return nearby
        is_everybodys = want.key.rpartition(".")[2] in self.profile.known_members
        if fallback and want.role == "call" and want.params == () and not is_everybodys:
            return fallback[0]
        return None

    def _almost_called(self, want: Wanted, scope_path: str, fallback: list[Target]) -> Target | None:
        """What code calls: a value, whatever it was made of. A bare name means what its scopes say."""
        value = next((f for f in fallback if f.entry.kind in VALUES), None)
        if value is not None or "." not in want.key or not self.profile.suffix:
            return value
        return self._nearby(want, scope_path)

    def _last_resort(self, want: Wanted, at: SymbolEntry | None, scope: Scope | None) -> Target | Missing | None:
        """The only public symbol of the name, a member that its type does not have, or what the language brings."""
        if self.profile.unique and not _is_bare_call(want) and (only := self._only(want)) is not None:
            return only
        lost = self._in_outer_type(want, at, scope) or self._lost_member(want, at, scope)
        if lost is None and want.key.partition(".")[0] in self.profile.builtins:
            return Missing("", want.key, open=True)
        return lost

    def _elsewhere(self, want: Wanted, at: SymbolEntry | None, scope: Scope | None) -> Target | Missing:
        """A related name of another project, or one told in full: what stands beside is looked for already."""
        found = self._in_scope(self.own, want, at, scope, [], [], 0)
        if found is not None and self.is_foreign(found.index):
            return found
        absolute = self.absolute(want.key, 0)
        if isinstance(absolute, Target):
            return self.choose(absolute, want) or absolute
        return absolute if "." in want.key else Missing("", want.key)

    def _lost_member(self, want: Wanted, at: SymbolEntry | None, scope: Scope | None) -> Missing | None:
        """A member that its type, which is known, does not have: the author meant that type's."""
        head, dot, last = want.key.rpartition(".")
        if not dot or self.profile.language == "python":
            return None
        owner = self._owner_named(head, at, scope)
        if owner is None or (entry := container(owner)).kind not in TYPE_KINDS or entry.kind == "type":
            return None
        if last in self.profile.known_members:
            return None
        name = f"{key_of(entry.path)}.{last}"
        known = self.lookup(owner.index, name, 0)
        is_open = known is True or self.line_of(owner.index, entry)[1]
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
        if "." in want.key:
            return None
        roots = (*((key_of(at.module).partition(".")[0],) if at is not None else ()), *self.profile.macro_roots)
        for root in roots:
            found = self.absolute(f"{root}.{want.key}", 0)
            if isinstance(found, Target) and (fitting := self.choose(found, want)) is not None:
                return fitting
        return None

    def _primitive(self, want: Wanted) -> Target | None:
        """A type of the language itself, which goes before a module of its name."""
        if want.role == "module":
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

    def may_be_foreign(self, path: str, name: str = "") -> bool:
        """Whether a bare name, any or this one, in the text of a symbol may come from outside of the portal."""
        at = self.own.symbols.get(path)
        scope = self._scope_of(self.own, at, at.file if at and self.profile.scope == "file" else "")
        return self.opens_foreign(scope, name)

    def _nearby(self, want: Wanted, scope_path: str) -> Target | None:
        """A symbol of the project whose qualified name ends in the one that was written."""
        if self.profile.language == "python" and want.key.partition(".")[0] in self.profile.builtins:
            return None
        nearby = self._nearest_suffix(want.key, scope_path, want.role)
        if nearby is None or not ("." in want.key or self._is_plain_enough(nearby, want.role)):
            return None
        return self.choose(nearby, want) or nearby


def _is_bare_call(want: Wanted) -> bool:
    """Whether code calls something by a name alone, which means what its scopes say or nothing."""
    return want.role == CALLED and "." not in want.key
