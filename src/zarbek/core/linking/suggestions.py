"""What a dangling name most likely means now."""

from __future__ import annotations

from dataclasses import dataclass

from rapidfuzz import process
from rapidfuzz.distance import Levenshtein

from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.linking.moves import find_moves
from zarbek.core.model.naming import key_of

_SPELLING_MAX = 2


@dataclass(frozen=True, slots=True)
class Suggestion:
    """name: qualified. certain: beyond doubt. why: the reason, for people. looks_alike: that reason is no
    more than spelling."""

    name: str
    certain: bool
    why: str
    looks_alike: bool = False


def suggest(name: str, target: ReleaseIndex, before: ReleaseIndex | None) -> Suggestion | None:
    """The best replacement for a qualified name that is not in the target release.

    before: the newest release that still had the name, or None.
    """
    gone = _entry(before, name) if before is not None else None
    if gone is not None and before is not None:
        move = find_moves(before, target).get(gone.path)
        if move is not None:
            return Suggestion(move.new, move.certain, move.why)
    return _same_last_name(name, target) or _similar(name, target)


def _entry(index: ReleaseIndex, name: str) -> SymbolEntry | None:
    """The symbol that a name meant in a release: the first of its overloads."""
    if name in index.symbols:
        return index.symbols[name]
    key = key_of(name)
    found = index.named(key)
    return found[0] if found else index.symbols.get(index.aliases.get(key, ""))


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
    cutoff = min(_SPELLING_MAX, len(last) // 3)
    match = process.extractOne(last, target.public_words, scorer=Levenshtein.distance, score_cutoff=cutoff)
    if match is None:
        return None
    paths = [e.path for n in target.by_last_name.get(match[0], ()) for e in target.named(n)]
    return Suggestion(paths[0], False, "spelt almost alike", looks_alike=True) if paths else None
