"""Names that lead nowhere now and led somewhere once: those are a project's own to mend, any other may be
anyone's."""

from __future__ import annotations

from typing import Protocol

from rapidfuzz.distance import Levenshtein

from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.language_profile import OVERRIDES_TOLD
from zarbek.core.linking.resolver import Resolver
from zarbek.core.linking.targets import TYPE_KINDS, Missing, Releases, Target, clean_name, fits
from zarbek.core.model.naming import enclosing_of, key_of

_OVERRIDES = frozenset({"override", "untold"})
#: Shorter names resemble too many others.
_SHORTEST = 5


class History(Releases, Protocol):
    """The releases of a portal with those before them."""

    def last_with(self, project: str, name: str) -> str:
        """The newest version, of those up to the one that counts, that had a qualified name; or empty."""

    def predecessor(self, project: str, version: str) -> ReleaseIndex | None:
        """The release of a project before one of its versions."""


class RemovedNames:
    """What names that one release does not have meant in those before it."""

    def __init__(self, own: ReleaseIndex, history: History) -> None:
        self.own, self.history = own, history
        self._earlier: dict[str, Resolver | None] = {}

    def find(self, resolver: Resolver, found: Missing, name: str, path: str, role: str) -> Missing | None:
        """What a name that its author meant as a reference, in the text of a symbol, led to before.

        found: why it leads nowhere now.
        """
        if found.project not in ("", self.own.project):
            return None
        if not found.project and not found.open and (lost := self._in_surroundings(resolver, name, path, role)):
            return lost
        if not found.project and found.open and not resolver.is_own_name(key_of(found.name)):
            return None  # It comes from elsewhere now.
        return self._since_before(resolver, name, path, role)

    def had_itself(self, resolver: Resolver, name: str) -> bool:
        """Whether in the release before the project itself gave a type a member, which the bases of the type did
        not have by the word of its declaration, where such a word is a must: that bases are outside of the portal
        does not matter then."""
        if resolver.profile.language not in OVERRIDES_TOLD or (earlier := self._before(resolver)) is None:
            return False
        found = earlier.lookup(earlier.own, key_of(name), 0)
        if not isinstance(found, Target) or not all(
            self._has_same_bases(earlier.own, owner)
            for owner in {key_of(name).rpartition(".")[0], key_of(found.entry.parent)}
        ):
            return False
        return all(not _OVERRIDES & set(e.flags) for e in earlier.own.named(key_of(found.entry.path)))

    def _has_same_bases(self, before: ReleaseIndex, owner: str) -> bool:
        """Whether a type has the bases now that it had before: another one may have taken its members."""
        sides = [[set(e.bases) for e in index.named(owner)] for index in (before, self.own)]
        return sides[0] == sides[1]

    # A bare name in its surroundings -----------------------------------------------------------

    def _in_surroundings(self, resolver: Resolver, name: str, path: str, role: str) -> Missing | None:
        """A name without a namespace that was, or almost is, a name of its own surroundings."""
        is_member = name.startswith("#") and resolver.profile.language == "java"
        name = clean_name(name).strip(".")
        if not name.isidentifier() or name in resolver.profile.builtins:
            return None
        if is_member and (lost := self._of_its_class(resolver, name, path)) is not None:
            return lost
        is_closed = not resolver.may_be_foreign(path)
        enclosing = path
        while enclosing:
            wanted = f"{key_of(enclosing)}.{name}"
            is_open = resolver.lookup(self.own, wanted, 0) is True  # A base outside of the portal may have it.
            is_open = is_open and not self.had_itself(resolver, wanted)
            if not is_open and (self._was_here(wanted) or (is_closed and self._has_similar(enclosing, name, role))):
                return Missing(self.own.project, wanted)
            enclosing = enclosing_of(enclosing)
        # What headers declare is everybody's, by its bare name.
        return Missing(self.own.project, name) if resolver.profile.family == "c" and self._was_here(name) else None

    def _of_its_class(self, resolver: Resolver, name: str, path: str) -> Missing | None:
        """``#name`` is a member of the class in whose text it stands (JavaDoc); of one that is known whole."""
        at = self.own.symbols.get(path)
        while at is not None and at.kind not in TYPE_KINDS:
            at = self.own.symbols.get(at.parent)
        if at is None or name in resolver.profile.known_members:
            return None
        wanted = f"{key_of(at.path)}.{name}"
        is_known_whole = resolver.lookup(self.own, wanted, 0) is False or self.had_itself(resolver, wanted)
        return Missing(self.own.project, f"{at.path}.{name}") if is_known_whole else None

    def _was_here(self, name: str) -> bool:
        """Whether an earlier release had a name that this one has not."""
        return self.history.last_with(self.own.project, name) not in ("", self.own.version)

    def _has_similar(self, parent: str, name: str, role: str) -> bool:
        members = [self.own.symbols[p] for p in self.own.members.get(parent, ())]
        names = {e.name.lstrip("_") for e in members if fits(e, role)}
        return (
            len(name) >= _SHORTEST
            and name not in names
            and name not in self.own.by_last_name
            and any(Levenshtein.distance(name, n, score_cutoff=1) <= 1 for n in names)
        )

    # The same name, a release before -------------------------------------------------------------

    def _since_before(self, resolver: Resolver, name: str, path: str, role: str) -> Missing | None:
        """What the release before had under the name, in the same text or as its only symbol of that name, where
        nothing is called so any more."""
        cleaned = clean_name(name).strip(".")
        earlier = self._before(resolver)
        if earlier is None or cleaned.rpartition(".")[2] in self.own.by_last_name:
            return None
        is_closed = resolver.profile.family == "c" or "." in cleaned or not resolver.may_be_foreign(path, cleaned)
        if cleaned in resolver.profile.builtins or not is_closed:
            return None
        was = earlier.resolve(name, path, role) if path in earlier.own.symbols else None
        target = was if isinstance(was, Target) and was.index is earlier.own else earlier.only(name)
        if target is None or self.own.has_name(target.entry.path) or not self._is_certain(resolver, earlier, target):
            return None
        return Missing(self.own.project, key_of(target.entry.path))

    def _is_certain(self, resolver: Resolver, earlier: Resolver, target: Target) -> bool:
        """Whether nothing outside of the portal, and nothing made at run time, can have what a target's type or
        module had."""
        owners = self.own.named(key_of(target.entry.parent))
        is_type = any(owner.kind in TYPE_KINDS for owner in owners)
        if not is_type and resolver.lookup(self.own, key_of(target.entry.path), 0) is True:
            return False  # What encloses it hands on what others have.
        is_open = any(
            resolver.answers_to_any(self.own, owner) or (is_type and resolver.bases_of(self.own, owner)[1])
            for owner in owners
        )
        return not is_open or (is_type and self.had_itself(resolver, target.entry.path))

    def _before(self, resolver: Resolver) -> Resolver | None:
        """The same names as the release before has them; None for a first release."""
        language = resolver.profile.language
        if language not in self._earlier:
            before = self.history.predecessor(self.own.project, self.own.version)
            self._earlier[language] = Resolver(before, self.history, resolver.profile) if before is not None else None
        return self._earlier[language]
