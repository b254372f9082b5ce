"""Supplements: text that is written outside of the source for elements that it does not change."""

from __future__ import annotations

import re
from typing import Literal

import msgspec

from zarbek.core.model.limits import Label, Number, Title
from zarbek.core.model.mention import absolute_place

#: Field of the mention that says for which element a supplement is.
SUPPLEMENT = "supplement"
#: How the paths of supplements begin.
SUPPLEMENTS = "supplements/"
#: What those are called that people write in a portal.
WRITTEN_NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,150}\.md")
#: How a part goes with what the source says: behind it, where it says nothing, in its place.
How = Literal["add", "fill", "replace"]
#: What a supplement may say: of ``parameter`` each by its name.
Part = Literal["summary", "text", "remarks", "examples", "see", "parameter"]


class SupplementPart(msgspec.Struct, frozen=True, array_like=True):
    """text: CommonMark. name: of a parameter, else empty. line: of the file, from 1."""

    kind: Part
    how: How
    text: str
    name: Title = ""
    line: Number = 0


class Supplement(msgspec.Struct, frozen=True, omit_defaults=True):
    """targets: addresses of elements, ``api://…``, in which ``*`` stands for anything. keywords: by which search finds
    them. language: of a translation, as BCP 47 has it; else empty. written: the release of the element's project for
    which it was written, where it says so. flags: by which editions have the elements or not."""

    targets: list[str]
    parts: list[SupplementPart] = []
    keywords: list[Title] = []
    language: Label = ""
    written: Label = ""
    flags: list[Label] = []


def place_of(target: str, own: str) -> tuple[str, str, str]:
    """(project, version, path or pattern of paths) of what a supplement is for. own: the project that has it."""
    return absolute_place(target) if target.startswith("api://") else (own, "", target.removeprefix("api:"))


def pattern_of(target: str) -> re.Pattern[str] | None:
    """What the paths of the elements match for which a supplement is; None for one that is for a single element."""
    path = target.partition("#")[0]
    if "*" not in path:
        return None
    return re.compile(".*".join(map(re.escape, path.split("*"))), re.DOTALL)
