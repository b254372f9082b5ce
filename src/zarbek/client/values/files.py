"""Files of a release with their comments, as the portal shows them."""

from __future__ import annotations

import msgspec

from zarbek.client.values.findings import Finding
from zarbek.client.values.pages import Crumb, Navigation


class ListedFile(msgspec.Struct, frozen=True, kw_only=True):
    """lines: how many it has."""

    file: str
    language: str
    lines: int
    href: str


class FilePart(msgspec.Struct, frozen=True, kw_only=True):
    """Lines one below the other. line: the first, from 1; lines: how many. is_words: whether the row says them as
    prose."""

    line: int
    lines: int
    html: str
    is_words: bool


class FileRow(msgspec.Struct, frozen=True, kw_only=True, omit_defaults=True):
    """A piece of a file. elements: what is declared where it begins, until end_line; depth: how deep that lies in
    others. prose: what the comments say, sanitised."""

    line: int
    parts: list[FilePart]
    prose: str
    elements: list[Crumb] = []
    depth: int = 0
    end_line: int = 0


class FilePage(msgspec.Struct, frozen=True, kw_only=True):
    """A file from a line on. next: the line from which on the rest is to be asked for, or None."""

    navigation: Navigation
    file: str
    language: str
    lines: int
    rows: list[FileRow]
    findings: list[Finding]
    permanent: str
    next: int | None = None
