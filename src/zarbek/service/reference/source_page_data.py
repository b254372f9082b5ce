"""What the page of a file holds."""

from __future__ import annotations

import msgspec

from zarbek.core.model.finding import Finding
from zarbek.core.writing.html import SafeHtml
from zarbek.service.common.html import HtmlHolder
from zarbek.service.reference.page_data import Crumb, Navigation


class SourcePart(HtmlHolder):
    """Lines one below the other. line: the first, from 1; lines: how many. html: all of them as code. is_words:
    whether the row says them as prose, so that only the plain page shows them."""

    line: int
    lines: int
    html: SafeHtml
    is_words: bool


class SourceRow(HtmlHolder, omit_defaults=True):
    """A piece of a file. line: the first, from 1. elements: what is declared where it begins; depth: how deep that lies
    in others, until the line where it ends. prose: what the comments say, beside the code."""

    line: int
    parts: list[SourcePart]
    prose: SafeHtml
    elements: list[Crumb] = []
    depth: int = 0
    end_line: int = 0


class SourcePage(HtmlHolder):
    """A file with its comments as prose beside its code."""

    navigation: Navigation
    file: str
    language: str
    lines: int
    rows: list[SourceRow]
    findings: list[Finding]
    permanent: str
    #: The line from which on the rest is to be asked for, or null.
    next: int | None = None


class SourceListed(msgspec.Struct):
    """lines: how many it has."""

    file: str
    language: str
    lines: int
    href: str
