"""Documentation text in one structure, whatever dialect it was written in."""

from __future__ import annotations

import msgspec

from zarbek.core.model.limits import File, Offset

#: Stands in doc text where the text of the overridden element goes.
INHERIT = "{@inheritDoc}"
#: Role of doc text, and of a mention, that stands for the text of a block or of another element.
TEXT = "text"
#: How it begins where a text takes another.
USE_BEGINS = f"{{{TEXT}}}`"


def use_of(name: str) -> str:
    """What stands in doc text, as CommonMark, for the text of another element or of a block."""
    return f"{{{TEXT}}}`{' '.join(name.replace('`', '').split())}`"


class DocField(msgspec.Struct, frozen=True, omit_defaults=True):
    """A named part: a parameter, a returned value, a raised error, an attribute.

    text: CommonMark. type: as written in the text. line: 1-based, in the file.
    """

    name: str = ""
    type: str = ""
    text: str = ""
    optional: bool = False
    line: Offset = 0


class Section(msgspec.Struct, frozen=True, omit_defaults=True):
    """A titled part of the detail: examples, notes, warnings and free sections."""

    kind: str
    text: str
    title: str = ""


class Deprecation(msgspec.Struct, frozen=True, omit_defaults=True):
    """since: a version, or empty."""

    since: str = ""
    text: str = ""
    #: The name that the text tells to use in its place, or empty.
    instead: str = ""


class Change(msgspec.Struct, frozen=True, omit_defaults=True):
    """What a version changed, as the doc text tells it."""

    version: str
    text: str = ""


class Doc(msgspec.Struct, frozen=True, omit_defaults=True):
    """Doc text of one symbol; every text is CommonMark with ``api:`` links. file: where its summary and body stand, if
    that is not the file of the declaration."""

    summary: str = ""
    body: str = ""
    parameters: list[DocField] = []
    type_parameters: list[DocField] = []
    returns: list[DocField] = []
    yields: list[DocField] = []
    raises: list[DocField] = []
    attributes: list[DocField] = []
    see: list[DocField] = []
    sections: list[Section] = []
    since: str = ""
    changes: list[Change] = []
    deprecated: Deprecation | None = None
    author: str = ""
    line: Offset = 0
    file: File = ""
