"""Keys in one release: aliases, inherited members, overloads."""

from __future__ import annotations

import re
from abc import ABC, abstractmethod
from collections.abc import Iterator
from dataclasses import replace

from zarbek.core.linking.dependency_trace import NOTHING, Asked, DependencyTrace
from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.language_profile import LanguageProfile, profile_of
from zarbek.core.linking.targets import (
    CALLABLE,
    MAX_DEPTH,
    TYPE_KINDS,
    Missing,
    Target,
    Wanted,
    base_name,
    by_parameters,
    container,
    fits,
)
from zarbek.core.model.given_types import BY_TYPE, EACH, ENTERED, GIVEN
from zarbek.core.model.naming import key_of, parameter_types

Bases = tuple[list[Target], bool]
Line = tuple[list[Target], bool]
_NAME = re.compile(r"[A-Za-z_][\w.]*")


class ReleaseLookup(ABC):
    """Looks keys up in any release. Answers are remembered."""

    def __init__(self, profile: LanguageProfile) -> None:
        self.profile = profile
        self.trace = DependencyTrace()
        self._bases: dict[tuple[int, str], tuple[Bases, frozenset[Asked]]] = {}
        #: By the identity of a release, then by key.
        self._lookups: dict[int, dict[str, tuple[Target | bool, frozenset[Asked]]]] = {}
        self._spread: dict[tuple[int, str, str], tuple[bool, frozenset[Asked]]] = {}
        self._lines: dict[tuple[int, str], tuple[Line, frozenset[Asked]]] = {}

    @abstractmethod
    def is_foreign(self, index: ReleaseIndex) -> bool:
        """Whether a release may change without the one that is linked."""

    @abstractmethod
    def absolute(self, key: str, depth: int) -> Target | Missing:
        """A qualified name, wherever in the portal its namespace is owned."""

    @abstractmethod
    def _from(self, index: ReleaseIndex, key: str, depth: int) -> Target | Missing:
        """A qualified name as a release sees it: its own first, then the portal's."""

    @abstractmethod
    def _base_target(self, index: ReleaseIndex, owner: SymbolEntry, name: str, depth: int) -> Target | None:
        """What the name of a base means where its type stands."""

    def _profile_for(self, at: SymbolEntry | None) -> LanguageProfile:
        return self.profile if at is None or at.language == self.profile.language else profile_of(at.language)

    # Several symbols of one name ----------------------------------------------------------

    def choose(self, found: Target, want: Wanted) -> Target | None:
        """The one of a name's symbols that the author asked for: by kind, then by parameters.

        Without parameters a value goes before functions, and the first declared before others
        (Java: JavaDoc's own rule; C++: the common case).
        """
        if found.entry.path == want.besides and found.entry.name == want.key:
            return None
        if self.profile.language == "python":
            return found if fits(found.entry, want.role) else None
        candidates = [self._spoken(t) for t in self._candidates(found)]
        fitting = [t for t in candidates if fits(t.entry, want.role)]
        if not fitting:
            return None
        if want.params is None:
            return min(fitting, key=lambda t: (_is_inner_module(t.entry), t.entry.kind in CALLABLE))
        chosen = by_parameters(fitting, want.params)
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
        params = parameter_types(entry.path)
        for base in self.members_above(found.index, owner, entry.name):
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
        if owner is None or owner.kind not in TYPE_KINDS or found.entry.kind not in CALLABLE:
            return same
        return [*same, *self.members_above(found.index, owner, found.entry.name)]

    # One release --------------------------------------------------------------------------

    def lookup(self, index: ReleaseIndex, name: str, depth: int) -> Target | bool:
        """A key in one release, through aliases and inheritance; else whether something outside
        may still have it."""
        lookups = self._lookups.get(id(index))
        if lookups is None:
            lookups = self._lookups[id(index)] = {}
        known = lookups.get(name)
        if known is not None:
            if known[1]:
                self.trace.bring(known[1])
            return known[0]
        if not self.is_foreign(index) and (direct := self._direct(index, name)) is not None:
            lookups[name] = (direct, NOTHING)
            return direct
        mark = self.trace.mark()
        answer = self._lookup(index, name, depth)
        if depth < MAX_DEPTH // 2:  # Deeper answers may have been cut short.
            lookups[name] = (answer, self.trace.since(mark))
        return answer

    def _lookup(self, index: ReleaseIndex, name: str, depth: int) -> Target | bool:
        if self.is_foreign(index):
            self.trace.ask(index.project, name)
            if (path := index.aliases.get(name)) is not None:
                self.trace.ask(index.project, path)
            if (direct := self._direct(index, name)) is not None:
                return direct
        head, dot, last = name.rpartition(".")
        if not dot or depth > MAX_DEPTH:
            return False
        owner = self.lookup(index, head, depth + 1)
        if not isinstance(owner, Target):
            return owner
        if index.specialised and name.replace(".", "::") in index.specialised:
            return True  # A template of which only specialisations are told.
        entry = container(owner)
        if key_of(entry.path) != head:
            if self.is_foreign(owner.index):
                self.trace.ask(owner.index.project, f"{key_of(entry.path)}.{last}")
            members = owner.index.named(f"{key_of(entry.path)}.{last}")
            if members:
                return Target(owner.index, members[0], name)
            if entry.kind in MODULE_KINDS:
                found = self.lookup(owner.index, f"{key_of(entry.path)}.{last}", depth + 1)
                if isinstance(found, Target):
                    return replace(found, via=name)
        if entry.kind in MODULE_KINDS:
            return self._through_import(owner.index, entry, last, depth)
        return self._member(owner.index, entry, last, f"{key_of(entry.path)}.{last}", depth)

    def _given(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> Target | bool:
        """The type of what a function gives; else that it may be any."""
        if owner.kind in TYPE_KINDS:
            return Target(index, owner, owner.path)
        return (self._base_target(index, owner, owner.gives, depth + 1) if owner.gives else None) or True

    def _each_given(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> Target | bool:
        """The type of each of several that a function gives, or that a type is iterated over by; else that it may be
        any."""
        if owner.gives_each:
            return self._base_target(index, owner, owner.gives_each, depth + 1) or True
        made = self._given(index, owner, depth)
        if not isinstance(made, Target) or depth > MAX_DEPTH:
            return True
        turned = self._special(made, ("__iter__", "__aiter__"), depth)
        return self._each_given(turned.index, turned.entry, depth + 1) if turned is not None else True

    def _entered(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> Target | bool:
        """What ``with`` makes of what a function gives, or of a type; else that it may be any."""
        if owner.gives_each:  # A generator that hands out one (contextlib, "contextmanager").
            return self._base_target(index, owner, owner.gives_each, depth + 1) or True
        made = self._given(index, owner, depth)
        if not isinstance(made, Target):
            return True
        entering = self._special(made, ("__enter__", "__aenter__"), depth)
        if entering is None or not entering.entry.gives:
            return made
        return self._given(entering.index, entering.entry, depth + 1)

    def _special(self, made: Target, names: tuple[str, ...], depth: int) -> Target | None:
        """The first member of a type of some names."""
        found = (self.lookup(made.index, f"{key_of(made.entry.path)}.{name}", depth + 1) for name in names)
        return next((member for member in found if isinstance(member, Target)), None)

    def _direct(self, index: ReleaseIndex, name: str) -> Target | None:
        """A key that a symbol of the release has, or another name of one."""
        entries = index.named(name)
        path = index.aliases.get(name)
        if path is not None and (not entries or entries[0].kind in MODULE_KINDS) and path in index.symbols:
            return Target(index, index.symbols[path], name)
        return Target(index, entries[0], name) if entries else None

    def _through_import(self, index: ReleaseIndex, module: SymbolEntry, last: str, depth: int) -> Target | bool:
        """A name that a module imports from another project, or from outside."""
        profile = self._profile_for(module)
        if self.is_foreign(index):
            self.trace.ask_members(index.project, key_of(module.path))
        if "open" in module.flags or self.answers_to_any(index, module):
            return True
        scope = index.scopes.get(module.path)
        if scope is None or profile.scope == "file":
            return False
        target = scope.imports.get(last)
        root = key_of(module.path).partition(".")[0]
        if target is not None and target.partition(".")[0] == root:
            return True  # It is there, or the module could not be read; only we do not see it.
        if target is None:
            return any(self._may_spread(index, w, last, depth) for w in scope.wildcards)
        found = self.absolute(target, depth + 1)
        return found if isinstance(found, Target) else True

    def _may_spread(self, index: ReleaseIndex, module: str, name: str, depth: int) -> bool:
        """Whether a module of which all is imported may have a name that nobody here can see."""
        if not index.named(module):
            return True
        if depth >= MAX_DEPTH:
            return False
        # What a package offers may be called like the module that it is from: here the module is meant.
        place = next((e for e in index.named(module) if e.kind in MODULE_KINDS), None)
        if place is None or index.named(f"{module}.{name}"):
            return place is None and self.lookup(index, f"{module}.{name}", depth + 1) is True
        key = (id(index), module, name)

        def is_spread() -> bool:
            self._spread[key] = (False, NOTHING)  # A circle of imports ends here.
            return self._through_import(index, place, name, depth + 1) is True

        return self.trace.remembered(self._spread, key, is_spread)

    def _member(self, index: ReleaseIndex, owner: SymbolEntry, last: str, via: str, depth: int) -> Target | bool:
        if depth > MAX_DEPTH:
            return False
        if last in BY_TYPE:
            find = {GIVEN: self._given, EACH: self._each_given, ENTERED: self._entered}[last]
            return find(index, owner, depth)
        if owner.kind not in TYPE_KINDS:
            return self._through(index, owner, last, via, depth)
        _, is_open = self.line_of(index, owner, depth)
        found = next(self.members_above(index, owner, last, depth), None)
        if found is not None:
            return Target(found.index, found.entry, via)
        return self._extension(index, owner, last, depth) or is_open

    def _extension(self, index: ReleaseIndex, owner: SymbolEntry, last: str, depth: int) -> Target | None:
        """A function that extends a type from outside of it, or one of its bases (Kotlin)."""
        if owner.language != "kotlin" or depth > MAX_DEPTH:
            return None
        path = index.aliases.get(f"{key_of(owner.path)}.{last}")
        if path in index.symbols:
            return Target(index, index.symbols[path], f"{key_of(owner.path)}.{last}")
        bases = self.bases_of(index, owner, depth)[0]
        return next((t for b in bases if (t := self._extension(b.index, b.entry, last, depth + 1))), None)

    def _through(self, index: ReleaseIndex, owner: SymbolEntry, last: str, via: str, depth: int) -> Target | bool:
        """A member of what a value is, as far as that is told; others may have any member."""
        for name in owner.through:
            made = self._base_target(index, owner, base_name(name), depth + 1)
            if made is None:
                continue
            found = self.lookup(made.index, f"{key_of(made.entry.path)}.{last}", depth + 1)
            if isinstance(found, Target):
                return replace(found, via=via)
        return owner.kind not in CALLABLE or owner.language == "python"

    def inherited_members(self, index: ReleaseIndex, owner: SymbolEntry) -> dict[str, list[Target]]:
        """Members of all bases by name, nearest base first."""
        found: dict[str, list[Target]] = {}
        for base in self.line_of(index, owner)[0]:
            for name, entries in base.index.own_members(base.entry.path).items():
                found.setdefault(name, []).extend(Target(base.index, e, e.path) for e in entries)
        return found

    def members_above(self, index: ReleaseIndex, owner: SymbolEntry, name: str, depth: int = 0) -> Iterator[Target]:
        """Members of one name of all bases, nearest base first. Cost: the number of bases."""
        for base in self.line_of(index, owner, depth)[0]:
            for entry in base.index.own_members(base.entry.path).get(name, ()):
                yield Target(base.index, entry, entry.path)

    def line_of(self, index: ReleaseIndex, owner: SymbolEntry, depth: int = 0) -> Line:
        """All that a class has members from, nearest first, and whether it may have more."""
        return self.trace.remembered(self._lines, (id(index), owner.path), lambda: self._line_of(index, owner, depth))

    def answers_to_any(self, index: ReleaseIndex, owner: SymbolEntry) -> bool:
        """Whether a module or class makes members when they are asked for, of any name."""
        hooks = (index.symbols.get(f"{owner.path}.{hook}") for hook in self._profile_for(owner).dynamic)
        return any(hook is not None and "closed" not in hook.flags for hook in hooks)

    def _line_of(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> Line:
        """Not from the lines of its bases: where these go in a circle, what one has would rest on which came first."""
        bases, is_open = self.bases_of(index, owner, depth)
        is_open = is_open or self._may_have_more(index, owner)
        line: dict[tuple[int, str], Target] = {}
        self._lines[id(index), owner.path] = (([], is_open), frozenset())  # While the names of bases are looked for.
        pending = bases[::-1]
        while pending:
            base = pending.pop()
            if (id(base.index), base.entry.path) in line:
                continue
            line[id(base.index), base.entry.path] = base
            if self.is_foreign(base.index):
                self.trace.ask_members(base.index.project, key_of(base.entry.path))
            further, further_open = self.bases_of(base.index, base.entry, depth + 1)
            is_open = is_open or further_open or self._may_have_more(base.index, base.entry)
            pending += reversed(further)
        return list(line.values()), is_open

    def _may_have_more(self, index: ReleaseIndex, owner: SymbolEntry) -> bool:
        """Whether a class may have members besides those that it and its bases declare."""
        if self.answers_to_any(index, owner) or owner.path in index.specialised or "open" in owner.flags:
            return True
        is_only_declared = owner.language == "cpp" and owner.path not in index.members
        return is_only_declared or bool(owner.through)

    def bases_of(self, index: ReleaseIndex, owner: SymbolEntry, depth: int = 0) -> Bases:
        """The bases that are known, in order, and whether any lies outside the portal."""
        return self.trace.remembered(self._bases, (id(index), owner.path), lambda: self._bases_of(index, owner, depth))

    def _bases_of(self, index: ReleaseIndex, owner: SymbolEntry, depth: int) -> Bases:
        self._bases[id(index), owner.path] = (([], False), frozenset())  # A cycle of bases ends here.
        if self.is_foreign(index):
            self.trace.ask_members(index.project, key_of(owner.path))
        found: list[Target] = []
        is_open = False
        for base in [*self._base_names(owner), *owner.through]:
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


def _is_inner_module(entry: SymbolEntry) -> bool:
    """Whether it is a module that nobody means who may mean something else of its name (Rust)."""
    return entry.kind in MODULE_KINDS and entry.visibility != "public"
