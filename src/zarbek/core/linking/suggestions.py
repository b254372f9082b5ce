"""What a dangling name most likely means now."""

from __future__ import annotations

from dataclasses import dataclass

from rapidfuzz import fuzz, process
from rapidfuzz.distance import Levenshtein

from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.model.naming import key_of

_SPELLING_MAX = 2
#: Per cent of two names that must be equal for one to be taken for the other.
_ALIKE = 60


@dataclass(frozen=True, slots=True)
class Suggestion:
    """name: qualified. certain: beyond doubt. why: the reason, for people."""

    name: str
    certain: bool
    why: str


def suggest(name: str, target: ReleaseIndex, before: ReleaseIndex | None) -> Suggestion | None:
    """The best replacement for a qualified name that is not in the target release.

    before: the newest release that still had the name, or None.
    """
    gone = _entry(before, name) if before is not None else None
    if gone is not None and before is not None:
        renamed = _renamed(gone, target, before)
        if renamed is not None:
            return renamed
        if gone.deprecated is not None and gone.deprecated.instead:
            instead = _find_near(gone.deprecated.instead, gone, target)
            if instead:
                return Suggestion(instead, True, f"named in the deprecation of {gone.name}")
    return _same_last_name(name, target) or _similar(name, target)


def _entry(index: ReleaseIndex, name: str) -> SymbolEntry | None:
    """The symbol that a name meant in a release: the first of its overloads."""
    if name in index.symbols:
        return index.symbols[name]
    key = key_of(name)
    found = index.named(key)
    return found[0] if found else index.symbols.get(index.aliases.get(key, ""))


def _renamed(gone: SymbolEntry, target: ReleaseIndex, before: ReleaseIndex) -> Suggestion | None:
    """What was added where something of the same shape was removed."""
    added = [e for p, e in target.symbols.items() if p not in before.symbols and e.visibility == "public"]
    same = [e for e in added if e.shape == gone.shape and e.kind == gone.kind]
    moved = [e for e in same if e.name == gone.name]
    if len(moved) == 1:
        return Suggestion(moved[0].path, True, "the same symbol, moved")
    siblings = [e for e in same if e.parent == gone.parent]
    if len(siblings) == 1:
        what = "same value" if gone.kind in ("constant", "variable") else "same signature"
        return Suggestion(siblings[0].path, True, f"{what}, added in the release that removed it")
    if len(siblings) > 1:
        alike = max(siblings, key=lambda e: (fuzz.ratio(e.name, gone.name), e.path))
        if fuzz.ratio(alike.name, gone.name) > _ALIKE:
            return Suggestion(alike.path, False, "same signature and much the same name")
    if len(same) == 1:
        return Suggestion(same[0].path, False, "same shape, added in the release that removed it")
    return None


def _find_near(name: str, gone: SymbolEntry, target: ReleaseIndex) -> str:
    key = key_of(name)
    for candidate in (key, f"{key_of(gone.parent)}.{key}", f"{key_of(gone.module)}.{key}"):
        found = target.named(candidate)
        if found:
            return found[0].path
    same = [e.path for n in target.by_last_name.get(key.rpartition(".")[2], ()) for e in target.named(n)]
    return same[0] if len(same) == 1 else ""


def _same_last_name(name: str, target: ReleaseIndex) -> Suggestion | None:
    found = [
        e.path for n in target.by_last_name.get(key_of(name).rpartition(".")[2], ()) for e in target.named(n)
        if e.visibility == "public"
    ]  # fmt: skip
    if len(found) == 1:
        return Suggestion(found[0], False, "the only symbol of that name")
    return None


def _similar(name: str, target: ReleaseIndex) -> Suggestion | None:
    last = key_of(name).rpartition(".")[2]
    if len(last) < 4:
        return None
    public = {e.name for e in target.symbols.values() if e.visibility == "public"}
    match = process.extractOne(
        last, sorted(public), scorer=Levenshtein.distance, score_cutoff=min(_SPELLING_MAX, len(last) // 3)
    )
    if match is None:
        return None
    paths = [e.path for n in target.by_last_name.get(match[0], ()) for e in target.named(n)]
    return Suggestion(paths[0], False, "spelt almost alike") if paths else None
