"""Which removed symbol lives on as which added one."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import lru_cache

from rapidfuzz import fuzz

from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.naming import key_of

#: Per cent of two names that must be equal for one to be taken for the other.
_ALIKE = 60
_SHORT_TEXT = 20
#: Kinds whose body tells under which name a definition made them first.
_STORED = frozenset({"table", "view", "column"})


@dataclass(frozen=True, slots=True)
class Move:
    """certain: beyond doubt. why: the reason, for people. works: whether the old name still does."""

    old: str
    new: str
    certain: bool
    why: str
    works: bool = False


@lru_cache(maxsize=64)
def find_moves(before: ReleaseIndex, after: ReleaseIndex) -> dict[str, Move]:
    """Old path to where the symbol is now, for public symbols that went. Overloads of a name
    that still has others are not moves.

    Reasons, surest first: another name that still leads there, an equal body, an explicit mark in
    the deprecation, an equal signature or value, an equal text. Cost: linear in removed and added.
    """
    removed = [e for p, e in before.symbols.items() if p not in after.symbols and _is_shown(e)]
    added = [e for p, e in after.symbols.items() if p not in before.symbols and _is_shown(e)]
    judge = _Judge(before, after, added)
    moves = {e.path: m for e in removed if (m := judge.move_of(e)) is not None}
    return moves | _members_of(moves, removed, after)


def _is_shown(entry: SymbolEntry) -> bool:
    return entry.visibility in ("public", "protected", "special") and "bare" not in entry.flags


class _Judge:
    def __init__(self, before: ReleaseIndex, after: ReleaseIndex, added: Iterable[SymbolEntry]) -> None:
        self.before, self.after = before, after
        added = list(added)
        self.by_body = _grouped(added, lambda e: e.body)
        self.by_shape = _grouped(added, _shape)
        self.by_shape_and_name = _grouped(added, lambda e: f"{_shape(e)} {e.name}")
        self.by_shape_and_parent = _grouped(added, lambda e: f"{_shape(e)} {e.parent}")
        self.by_text = _grouped(added, lambda e: e.summary if len(e.summary) >= _SHORT_TEXT else "")

    def move_of(self, gone: SymbolEntry) -> Move | None:
        key = key_of(gone.path)
        if self.after.named(key):
            return None
        path = self.after.aliases.get(key)
        if path is not None and path in self.after.symbols:
            return Move(gone.path, path, True, "the old name still leads there", works=True)
        return self._by_body(gone) or self._by_mark(gone) or self._by_shape(gone) or self._by_text(gone)

    def _by_body(self, gone: SymbolEntry) -> Move | None:
        same = [e for e in self.by_body.get(gone.body, ()) if e.kind == gone.kind] if gone.body else []
        if gone.kind in _STORED:
            return Move(gone.path, same[0].path, True, "renamed by its definition") if len(same) == 1 else None
        named = [e for e in same if e.name == gone.name]
        if len(named) == 1:
            return Move(gone.path, named[0].path, True, "the same body, moved")
        return Move(gone.path, same[0].path, True, "the same body under a new name") if len(same) == 1 else None

    def _by_mark(self, gone: SymbolEntry) -> Move | None:
        if gone.deprecated is None or not gone.deprecated.instead:
            return None
        found = find_near(gone.deprecated.instead, gone, self.after)
        return Move(gone.path, found, True, f"named in the deprecation of {gone.name}") if found else None

    def _by_shape(self, gone: SymbolEntry) -> Move | None:
        move = self._moved_whole(gone) or self._renamed(gone)
        return move if move is not None and self._holds_the_same(gone, self.after.symbols[move.new]) else None

    def _moved_whole(self, gone: SymbolEntry) -> Move | None:
        named = self.by_shape_and_name.get(f"{_shape(gone)} {gone.name}", ())
        return Move(gone.path, named[0].path, True, "the same symbol, moved") if len(named) == 1 else None

    def _renamed(self, gone: SymbolEntry) -> Move | None:
        siblings = self.by_shape_and_parent.get(f"{_shape(gone)} {gone.parent}", [])
        if gone.kind in TYPE_KINDS:  # Their shape says little of them.
            siblings = [e for e in siblings if _are_alike(e, gone)]
        if len(siblings) == 1:
            what = "same value" if gone.kind in ("constant", "variable") else "same signature"
            return Move(gone.path, siblings[0].path, False, f"{what}, added in the release that removed it")
        if siblings:
            alike = max(siblings, key=lambda e: (fuzz.ratio(e.name, gone.name), e.path))
            why = "same signature and much the same name"
            return Move(gone.path, alike.path, False, why) if _are_alike(alike, gone) else None
        same = self.by_shape.get(_shape(gone), ())
        if len(same) == 1 and _are_alike(same[0], gone):
            return Move(gone.path, same[0].path, False, "same shape, added in the release that removed it")
        return None

    def _holds_the_same(self, gone: SymbolEntry, now: SymbolEntry) -> bool:
        """Whether half of what was in a module or type is in the other one, if there was anything."""
        before = _names_in(self.before, gone)
        return not before or 2 * len(before & _names_in(self.after, now)) >= len(before)

    def _by_text(self, gone: SymbolEntry) -> Move | None:
        same = [e for e in self.by_text.get(gone.summary, ()) if e.kind == gone.kind] if gone.summary else []
        return Move(gone.path, same[0].path, False, "the same summary") if len(same) == 1 else None


def _shape(entry: SymbolEntry) -> str:
    return f"{entry.kind} {entry.shape}"


def _are_alike(one: SymbolEntry, other: SymbolEntry) -> bool:
    return fuzz.ratio(one.name, other.name) > _ALIKE


def _names_in(index: ReleaseIndex, entry: SymbolEntry) -> set[str]:
    return {index.symbols[path].name for path in index.members.get(entry.path, ())}


def _grouped(entries: Iterable[SymbolEntry], key: Callable[[SymbolEntry], str]) -> dict[str, list[SymbolEntry]]:
    found: dict[str, list[SymbolEntry]] = defaultdict(list)
    for entry in entries:
        if value := key(entry):
            found[value].append(entry)
    return found


def _members_of(moves: dict[str, Move], removed: list[SymbolEntry], after: ReleaseIndex) -> dict[str, Move]:
    """Members that went along with what they are in, each to its own new place."""
    found: dict[str, Move] = {}
    for entry in sorted(removed, key=lambda e: e.path):
        above = found.get(entry.parent) or moves.get(entry.parent)
        if above is None:
            continue
        path = above.new + entry.path[len(entry.parent) :]
        if path in after.symbols and after.symbols[path].kind == entry.kind:
            found[entry.path] = Move(entry.path, path, above.certain, above.why, above.works)
    return found


def find_near(name: str, gone: SymbolEntry, target: ReleaseIndex) -> str:
    """The path that a name means when it is written in the text of a symbol that went; or empty."""
    key = key_of(name)
    for candidate in (key, f"{key_of(gone.parent)}.{key}", f"{key_of(gone.module)}.{key}"):
        found = target.named(candidate)
        if found:
            return found[0].path
    same = [e.path for n in target.by_last_name.get(key.rpartition(".")[2], ()) for e in target.named(n)]
    return same[0] if len(same) == 1 else ""
