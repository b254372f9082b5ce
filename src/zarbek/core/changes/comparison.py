"""Two releases side by side."""

from __future__ import annotations

import builtins
from collections import Counter, abc
from collections.abc import Callable, Collection, Iterable, Mapping

from msgspec.structs import replace

from zarbek.core.changes.change import Change, Comparison, Detail
from zarbek.core.changes.compatibility_rules import callers_of, is_overloading
from zarbek.core.changes.pages import compare_pages
from zarbek.core.changes.signatures import compare_declarations, declaration_of
from zarbek.core.changes.texts import differing_words, means_the_same
from zarbek.core.changes.version_bump import level_of, promised_level, suggest_version
from zarbek.core.editions.visibility import Audience, audience_of
from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.linking.moves import Move, find_moves
from zarbek.core.linking.targets import TYPE_KINDS, base_name
from zarbek.core.model.doc_text import Deprecation
from zarbek.core.model.example import EXAMPLE, shown_code
from zarbek.core.model.naming import enclosing_of, is_inner_name, key_of
from zarbek.core.model.symbol import Symbol

#: Flags of members that those who implement a type need not write.
_NOT_ASKED = frozenset({"default", "provided", "static", "optional"})
#: Languages whose modules have what they import.
_IMPORTING = frozenset({"python", "rust"})
#: Paths to their symbols, with their whole content.
Load = Callable[[Collection[str]], Mapping[str, Symbol]]


def compare_releases(
    old: ReleaseIndex, new: ReleaseIndex, *, load_old: Load, load_new: Load, unchanged: Collection[str] = ()
) -> Comparison:
    """What readers of the newer release see differently, by symbol.

    unchanged: paths whose content is known to be equal in both; they are not loaded.
    Cost: linear in both releases' sizes, and one load of what differs.
    """
    pairing = _Pairing(old, new)
    skipped = frozenset(unchanged)
    kept = [(o, n) for o, n in pairing.kept if o.path not in skipped or o.path != n.path]
    pairs = [*kept, *(move[:2] for move in pairing.moved)]
    before = load_old([o.path for o, _ in pairs] + [e.path for e in pairing.removed])
    after = load_new([n.path for _, n in pairs] + [e.path for e in pairing.added])
    aliases = _aliases(old) | _aliases(new)
    unmissed = _Unmissed(old, new)
    changes = [change for o, n in kept for change in _changes_of(before[o.path], after[n.path], aliases)]
    for o, n, move in pairing.moved:
        changes.append(_moved(before[o.path], after[n.path], move, aliases, is_unmissed=o in unmissed))
    changes += [_removed(before[e.path], breaks=e not in unmissed) for e in pairing.removed]
    changes += [_added(after[e.path], new, old) for e in pairing.added]
    changes = sorted(_outermost(changes), key=Change.sort_key)
    level = level_of(changes)
    promised = promised_level(old.version, new.version)
    return Comparison(
        new.project, old.version, new.version, changes, level, suggest_version(old.version, level), promised,
        hides_break=level == "major" and promised in ("minor", "patch"), counts=_counts(changes),
        pages=compare_pages(old.pages.values(), new.pages.values()),
    )  # fmt: skip


def _aliases(index: ReleaseIndex) -> frozenset[str]:
    """Names of types that stand for others."""
    return frozenset(e.name for e in index.symbols.values() if e.kind == "type")


class _Pairing:
    """Which symbol of the older release is which of the newer; only those that readers see."""

    def __init__(self, old: ReleaseIndex, new: ReleaseIndex) -> None:
        shown_old, shown_new = _shown(old), _shown(new)
        self.kept = [(o, shown_new[p]) for p, o in shown_old.items() if p in shown_new]
        self.removed = [o for p, o in shown_old.items() if p not in shown_new]
        self.added = [n for p, n in shown_new.items() if p not in shown_old]
        # What is still there, but no longer for its readers, is compared with itself.
        self.kept += [(o, new.symbols[o.path]) for o in self.removed if o.path in new.symbols]
        self._leave_out(lambda o: o.path in new.symbols, lambda _: False)
        self._pair_overloads()
        self._leave_out(lambda o: _is_implied(o, new), lambda n: _is_implied(n, old))
        moves = find_moves(old, new)
        self.moved = [
            (o, new.symbols[moves[o.path].new], moves[o.path]) for o in self.removed if o.path in moves
        ]  # fmt: skip
        came = {n.path for _, n, _ in self.moved}
        self._leave_out(lambda o: o.path in moves, lambda n: n.path in came)

    def _leave_out(self, removed: Callable[[SymbolEntry], bool], added: Callable[[SymbolEntry], bool]) -> None:
        self.removed = [entry for entry in self.removed if not removed(entry)]
        self.added = [entry for entry in self.added if not added(entry)]

    def _pair_overloads(self) -> None:
        """One overload that went and one of its name that came are one symbol with another signature."""
        gone, come = _by_key(self.removed), _by_key(self.added)
        pairs = [
            (os[0], come[key][0]) for key, os in gone.items()
            if len(os) == 1 and len(come.get(key, ())) == 1 and _is_written_apart(os[0])
        ]  # fmt: skip
        self.kept += pairs
        paths = {e.path for pair in pairs for e in pair}
        self.removed = [e for e in self.removed if e.path not in paths]
        self.added = [e for e in self.added if e.path not in paths]


def _is_implied(entry: SymbolEntry, other: ReleaseIndex) -> bool:
    """Whether a constructor is the one that its type has in another release without saying so (Java Language
    Specification 8.8.9; C# specification 15.11.5)."""
    if entry.kind != "constructor" or not entry.path.endswith("()") or entry.parent not in other.symbols:
        return False
    return all(other.symbols[path].kind != "constructor" for path in other.members.get(entry.parent, ()))


def _is_written_apart(entry: SymbolEntry) -> bool:
    """Whether a path tells more of a symbol than its name: its parameters, or for what a trait is implemented."""
    return is_overloading(entry.language) or (entry.language == "rust" and entry.path.endswith(")"))


def _by_key(entries: Iterable[SymbolEntry]) -> dict[str, list[SymbolEntry]]:
    found: dict[str, list[SymbolEntry]] = {}
    for entry in entries:
        found.setdefault(key_of(entry.path), []).append(entry)
    return found


def _shown(index: ReleaseIndex) -> dict[str, SymbolEntry]:
    """Symbols that readers see and whose enclosing symbols they see too."""
    audience = audience_of(index.manifest.options)
    return {p: e for p, e in index.symbols.items() if _sees(index, e, audience)}


def _sees(index: ReleaseIndex, entry: SymbolEntry, audience: Audience) -> bool:
    at: SymbolEntry | None = entry
    for _ in range(30):  # Deeper nesting is a cycle.
        if at is None:
            return True
        if not audience.sees(at) and not (at.kind in MODULE_KINDS and at is not entry):
            return False
        at = index.symbols.get(at.parent)
    return False


def _is_inner(symbol: Symbol | SymbolEntry) -> bool:
    return is_inner_name(symbol.path, symbol.language, is_namespace=symbol.kind in MODULE_KINDS)


def _changes_of(old: Symbol, new: Symbol, aliases: frozenset[str]) -> list[Change]:
    found = []
    details = compare_declarations(old, new, aliases)
    before, after = declaration_of(old), declaration_of(new)
    plain = Change("text", new.path, new.kind, new.language, was=old.path if old.path != new.path else "")
    if details:
        breaks = any(d.breaks for d in details) and not _is_inner(old)
        found.append(replace(plain, kind="signature", breaks=breaks, before=before, after=after, details=details))
    deprecated = new.doc.deprecated if new.doc else None
    if deprecated is not None and not (old.doc and old.doc.deprecated):
        found.append(replace(plain, kind="deprecated", details=[_deprecated(deprecated)]))
    elif old.example is not None and new.example is not None and shown_code(old.example) != shown_code(new.example):
        found.append(replace(plain, details=[Detail("text", "The test shows something else.", False)]))
    elif not means_the_same(old.doc, new.doc):
        words = differing_words(old.doc, new.doc)
        found.append(replace(plain, details=[Detail("text", "The text says something else.", False, *words)]))
    return found


def _deprecated(deprecated: Deprecation) -> Detail:
    return Detail("deprecated", f"Use {deprecated.instead}." if deprecated.instead else "It should no longer be used.")


def _moved(old: Symbol, new: Symbol, move: Move, aliases: frozenset[str], *, is_unmissed: bool) -> Change:
    details = [d for d in compare_declarations(old, new, aliases) if d.kind != "visibility"]
    breaks = not (move.works or is_unmissed) or any(d.breaks for d in details)
    if new.doc and new.doc.deprecated and not (old.doc and old.doc.deprecated):
        details.append(_deprecated(new.doc.deprecated))
    return Change("moved", new.path, new.kind, new.language, breaks=breaks, was=old.path, certain=move.certain,
                  why=move.why, before=declaration_of(old), after=declaration_of(new), details=details)  # fmt: skip


def _removed(symbol: Symbol, *, breaks: bool) -> Change:
    return Change("removed", symbol.path, symbol.kind, symbol.language, breaks=breaks, before=declaration_of(symbol))


class _Unmissed:
    """What callers of a release do not miss where it was: they may still reach it, or were never meant to."""

    def __init__(self, before: ReleaseIndex, index: ReleaseIndex) -> None:
        self.before, self.index = before, index

    def __contains__(self, gone: SymbolEntry) -> bool:
        return (
            gone.kind == EXAMPLE
            or self._is_answered(gone)
            or _is_inner(gone)
            or self._is_inherited(gone)
            or self._is_imported(gone)
        )

    def _is_imported(self, gone: SymbolEntry) -> bool:
        """Whether the nearest module that is still there has the name, or that of what it is in, from elsewhere."""
        outer, at = gone.parent, gone.path
        while outer and outer not in self.index.symbols:
            outer, at = enclosing_of(outer), outer
        scope = self.index.scopes.get(outer)
        if scope is None or gone.language not in _IMPORTING:
            return False
        root = key_of(outer).partition(".")[0]
        name = key_of(at).rpartition(".")[2]
        return name in scope.imports or any(w.partition(".")[0] != root for w in scope.wildcards)

    def _is_answered(self, gone: SymbolEntry) -> bool:
        """Whether its module still answers to its name, or to that of the type that it is in."""
        owner = self.before.symbols.get(gone.parent)
        is_member = owner is not None and owner.kind in TYPE_KINDS and owner.path not in self.index.symbols
        return gone.name in self.index.macro_words or (
            is_member and owner is not None and owner.name in self.index.macro_words
        )

    def _is_inherited(self, member: SymbolEntry) -> bool:
        """Whether a type has a member from those above it, or from the one that it is another name of, whether
        readers see these or not."""
        if "override" in member.flags:
            return True
        owner = self.index.aliases.get(key_of(member.parent), member.parent)
        pending, seen = [owner], {owner}
        while pending:
            path = pending.pop()
            entry = self.index.symbols.get(path)
            if entry is not None and entry.language == "python" and _has_of_old(entry.bases, member.name):
                return True
            for base in self._above(path):
                if any(self.index.symbols[p].name == member.name for p in self.index.members.get(base, ())):
                    return True
                pending += {base} - seen
                seen.add(base)
        return False

    def _above(self, path: str) -> list[str]:
        entry = self.index.symbols.get(path)
        if entry is None:
            return []
        named = (self.index.named_in_module(entry.module, key_of(base_name(base))) for base in entry.bases)
        return [base for base in named if base]


def _has_of_old(bases: Iterable[str], name: str) -> bool:
    """Whether a class of Python's own library among some bases gives a member (collections.abc, built-in types)."""
    named = (base_name(base).rpartition(".")[2] for base in bases)
    return any(hasattr(getattr(abc, n, getattr(builtins, n, None)), name) for n in named)


def _added(symbol: Symbol, new: ReleaseIndex, old: ReleaseIndex) -> Change:
    detail = _asked_of_others(symbol, new, old)
    return Change("added", symbol.path, symbol.kind, symbol.language, breaks=detail is not None and detail.breaks,
                  after=declaration_of(symbol), details=[detail] if detail else [])  # fmt: skip


def _asked_of_others(symbol: Symbol, new: ReleaseIndex, old: ReleaseIndex) -> Detail | None:
    """What a new member of a known type asks of those who implement or match that type."""
    owner = new.symbols.get(symbol.parent)
    if owner is None or owner.path not in old.symbols:
        return None
    if owner.kind not in TYPE_KINDS and "required" not in symbol.flags:
        return None
    callers = callers_of(symbol.language)
    if "required" in symbol.flags:
        return Detail("member-added", f"Whoever writes {owner.name} must give it.", True)
    is_open = "non-exhaustive" in owner.flags
    if symbol.kind == "member" and callers.matches_all and not is_open:
        return Detail("member-added", f"Those who match every member of {owner.name} miss it.", True)
    has_body = not _NOT_ASKED.isdisjoint(symbol.flags)
    needs = "abstract" in symbol.flags or (owner.kind in ("interface", "trait") and not has_body)
    if symbol.kind in ("method", "property") and callers.implements and needs:
        if callers.structural:  # Only who writes such a value misses it; most are given one.
            return Detail("member-added", f"Those who write {owner.name} themselves must add it.", False)
        return Detail("member-added", f"Those who implement {owner.name} must add it.", True)
    return None


def _outermost(changes: list[Change]) -> Iterable[Change]:
    """Members of what is wholly new, gone or moved are told with it, not each again."""
    parents = {c.path: c for c in changes}
    gone = {c.path for c in changes if c.kind == "removed" and c.symbol_kind in TYPE_KINDS}
    modules = {c.path: c for c in changes if c.kind == "removed" and c.symbol_kind in MODULE_KINDS}
    went = Counter(_outermost_of(c.path, modules) for c in changes if c.kind == "removed")
    for change in changes:
        outer = _outermost_of(change.path, modules) if change.kind == "removed" else ""
        if outer == "":
            if not _is_told_with(change, _enclosing_in(change.path, parents, change), gone):
                yield change
        elif outer == change.path:
            told = Detail("removed", f"With it went {went[outer] - 1} more elements.")
            yield replace(change, details=[told] if went[outer] > 2 else [])


def _is_told_with(change: Change, owner: Change | None, gone: Collection[str]) -> bool:
    """owner: the change of what a changed element stands in. gone: types that were removed."""
    if change.kind == "moved":
        is_plain = owner is not None and owner.kind == "moved" and not change.details
        return is_plain or enclosing_of(change.was) in gone
    return owner is not None and change.kind == owner.kind and change.kind in ("added", "removed")


def _outermost_of(path: str, modules: Collection[str]) -> str:
    """The outermost of some modules that a path is, or lies in; empty for none."""
    found = ""
    while path:
        found = path if path in modules else found
        path = enclosing_of(path)
    return found


def _enclosing_in(path: str, changes: Mapping[str, Change], own: Change) -> Change | None:
    while path := enclosing_of(path):
        found = changes.get(path)
        if found is not None and found is not own and found.symbol_kind not in MODULE_KINDS:
            return found
    return None


def _counts(changes: Iterable[Change]) -> dict[str, int]:
    counts = Counter(c.kind for c in changes)
    return {**dict(sorted(counts.items())), "breaking": sum(c.breaks for c in changes)}
