"""A change between two releases, as a value."""

from __future__ import annotations

from typing import Literal

import msgspec

ChangeKind = Literal["removed", "moved", "signature", "deprecated", "added", "text"]
#: In the order in which people want to read of them.
CHANGE_KINDS: tuple[ChangeKind, ...] = ("removed", "moved", "signature", "deprecated", "added", "text")
Level = Literal["major", "minor", "patch", "none"]
LEVELS: tuple[Level, ...] = ("none", "patch", "minor", "major")


class Detail(msgspec.Struct, frozen=True, omit_defaults=True):
    """One thing that is different about a symbol.

    kind: stable word such as ``parameter-added``. breaks: whether callers written against the
    old release may fail. text: a sentence. before, after: source text, empty for none. name: of the
    parameter that it is about, in the old release.
    """

    kind: str
    text: str
    breaks: bool = False
    before: str = ""
    after: str = ""
    name: str = ""


class Change(msgspec.Struct, frozen=True, omit_defaults=True):
    """What became of one symbol. path: in the newer release, or where it was for ``removed``.

    was: its path in the older release, if that was another. certain: of a move, whether it is
    beyond doubt; why: its reason. before, after: declarations, where they differ.
    """

    kind: ChangeKind
    path: str
    symbol_kind: str
    language: str = ""
    breaks: bool = False
    was: str = ""
    certain: bool = True
    why: str = ""
    before: str = ""
    after: str = ""
    details: list[Detail] = []

    def sort_key(self) -> tuple[int, bool, str]:
        """By kind, those that break callers first, then by path."""
        return (CHANGE_KINDS.index(self.kind), not self.breaks, self.path)


PageChangeKind = Literal["removed", "moved", "text", "places", "added"]
#: In the order in which people want to read of them.
PAGE_CHANGE_KINDS: tuple[PageChangeKind, ...] = ("removed", "moved", "text", "places", "added")


class PageChange(msgspec.Struct, frozen=True, omit_defaults=True):
    """What became of one page. path: in the newer release, or where it was for ``removed``; was: its path in the older
    one, if that was another; why: how that is known. gone, come: places that went and came, the first 100."""

    kind: PageChangeKind
    path: str
    title: str
    was: str = ""
    why: str = ""
    gone: list[str] = []
    come: list[str] = []

    def sort_key(self) -> tuple[int, str]:
        """By kind, then by path."""
        return (PAGE_CHANGE_KINDS.index(self.kind), self.path)


class Comparison(msgspec.Struct, frozen=True):
    """changes: by kind, breaking ones first, then by path. level: what Semantic Versioning 2.0.0
    asks for; suggested: the next version number by it. promised: the level that the versions'
    own numbers claim. hides_break: whether the number promises more than the changes keep. pages: by kind, then by
    path; they count for no version number."""

    project: str
    old: str
    new: str
    changes: list[Change]
    level: Level
    suggested: str
    promised: Level
    hides_break: bool
    counts: dict[str, int]
    pages: list[PageChange] = []
