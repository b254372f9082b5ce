"""The text of a gathered file."""

from __future__ import annotations

from typing import Literal

import msgspec

from zarbek.core.model.limits import File, Label

#: Which files of a project readers see: all that were gathered, those that declare something public, or none.
Shown = Literal["all", "public", "none"]
#: Of one file, in bytes; nobody reads more on one page.
MAX_SOURCE_BYTES = 2**20


class SourceText(msgspec.Struct, frozen=True, omit_defaults=True):
    """language: that it was read as."""

    file: File
    language: Label
    text: str
