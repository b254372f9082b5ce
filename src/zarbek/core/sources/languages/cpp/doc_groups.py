"""Groups of documentation in comments of C and C++: what joins one by a command of its own, or by standing
between the marks that open and close one."""

from __future__ import annotations

import re
from dataclasses import dataclass, field

from zarbek.core.model.mention import Mention
from zarbek.core.sources.languages.reading import GroupNote

_JOINED = re.compile(r"[@\\]ingroup[ \t]+([\w.-]+(?:[ \t]+[\w.-]+)*)")
_OPENED = re.compile(r"[@\\](?:defgroup|addtogroup|weakgroup)[ \t]+([\w.-]+)")
_MARK = re.compile(r"(?:^|[\s*/])[@\\]([{}])(?=[\s*]|$)")
_LABELLED = re.compile(r"[@\\]ref\s+([\w.-]+)\s*\"([^\"]+)\"")


@dataclass(slots=True)
class Groups:
    """The groups that stand open where a file is read, innermost last, and what was told of groups."""

    open: list[str] = field(default_factory=list)
    notes: list[GroupNote] = field(default_factory=list)

    def pass_comment(self, text: str) -> None:
        """A comment that stands by itself or before a declaration: it may open groups, and close them."""
        for mark in _MARK.findall(text):
            if mark == "{":
                named = _OPENED.search(text)
                self.open.append(named[1] if named else "")  # A run of members opens and closes, too.
            elif self.open:
                self.open.pop()

    def join(self, path: str, texts: list[str], *, is_member: bool, line: int) -> None:
        """texts: the comments of the element at path. is_member: of a type, which is in groups by itself only
        where its own comment says so."""
        told = [name for text in texts for found in _JOINED.findall(text) for name in found.split()]
        inside = [] if is_member else [name for name in self.open[-1:] if name]
        self.notes += [GroupNote(name, member=path, line=line) for name in dict.fromkeys([*told, *inside])]

    def call(self, mentions: list[Mention]) -> None:
        """What references call the groups that they name."""
        for mention in mentions:
            if mention.role == "topic" and (label := _LABELLED.fullmatch(mention.text)):
                self.notes.append(GroupNote(label[1], label=" ".join(label[2].split())))
