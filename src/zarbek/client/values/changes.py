"""What changed between releases, and whom it touches."""

from __future__ import annotations

from typing import Literal

import msgspec


class Detail(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """One thing that is different about a symbol.

    kind: stable word such as ``parameter-added``. breaks: whether callers written against the
    old release may fail. text: a sentence. before, after: source text, empty for none. name: of the
    parameter that it is about, in the old release."""

    kind: str
    text: str
    breaks: bool = False
    before: str = ""
    after: str = ""
    name: str = ""


class Change(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """What became of one symbol. path: in the newer release, or where it was for ``removed``.

    was: its path in the older release, if that was another. certain: of a move, whether it is
    beyond doubt; why: its reason. before, after: declarations, where they differ."""

    kind: Literal["removed", "moved", "signature", "deprecated", "added", "text"]
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


class PageChange(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """What became of one page. path: in the newer release, or where it was for ``removed``; was: its path in the older
    one, if that was another; why: how that is known. gone, come: places that went and came, the first 100."""

    kind: Literal["removed", "moved", "text", "places", "added"]
    path: str
    title: str
    was: str = ""
    why: str = ""
    gone: list[str] = []
    come: list[str] = []


class Passage(msgspec.Struct, frozen=True, kw_only=True):
    """Words that both releases say, that went, or that came. What stays is cut in the middle where it is long."""

    sign: Literal["same", "gone", "come"]
    text: str


class SectionChange(msgspec.Struct, frozen=True, kw_only=True):
    """What became of one section. anchor: its place in the newer release, or where it was for ``removed``; empty for
    what stands before all of them, as is title."""

    kind: Literal["removed", "added", "text"]
    anchor: str
    title: str
    passages: list[Passage]


class PageWords(msgspec.Struct, frozen=True, kw_only=True):
    """page: its path in the newer release; was: in the older one. sections: those that differ, in the order of the
    newer release, what went at the end. more: whether further ones differ that are not told."""

    project: str
    old: str
    new: str
    page: str
    was: str
    sections: list[SectionChange]
    more: bool = False


class Comparison(msgspec.Struct, frozen=True, kw_only=True):
    """changes: by kind, breaking ones first, then by path. level: what Semantic Versioning 2.0.0
    asks for; suggested: the next version number by it. promised: the level that the versions'
    own numbers claim. hides_break: whether the number promises more than the changes keep. pages: by kind, then by
    path; they count for no version number."""

    project: str
    old: str
    new: str
    changes: list[Change]
    level: Literal["major", "minor", "patch", "none"]
    suggested: str
    promised: Literal["major", "minor", "patch", "none"]
    hides_break: bool
    counts: dict[str, int]
    pages: list[PageChange] = []


class Place(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """Where a target is named. via: the name used, where that is an inherited or offered-on one."""

    kind: str
    path: str
    file: str
    line: int
    text: str
    origin: str
    target: str
    via: str = ""
    owner: str = ""


class Referring(msgspec.Struct, frozen=True, kw_only=True):
    """One release's places, by file and line."""

    project: str
    version: str
    owner: str
    places: list[Place]


class Impact(msgspec.Struct, frozen=True, kw_only=True):
    """asked: what was asked about. targets: how many symbols that is. projects counts those of
    others than the asked one. more: whether places were left out."""

    project: str
    asked: str
    targets: int
    places: int
    projects: int
    owners: list[str]
    referring: list[Referring]
    more: bool = False
