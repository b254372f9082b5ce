"""What a page says of the supplements of its element."""

from __future__ import annotations

import msgspec

from zarbek.core.writing.html import SafeHtml
from zarbek.service.common.html import HtmlHolder


class SupplementView(msgspec.Struct, omit_defaults=True):
    """A supplement for the element of a page. href: of its own page. file, line: where it is written. target: what it
    says that it is for. language: of a translation."""

    project: str
    version: str
    path: str
    href: str
    file: str
    target: str
    language: str = ""


class WordsView(HtmlHolder, omit_defaults=True):
    """Something that is said of an element. kind: summary, text, parameter, remarks, examples or see; name: of a
    parameter. by: which of the page's supplements says it, -1 for the source; hidden_by: the one that readers see in
    its place, absent where they see it. line: of the file."""

    kind: str
    html: SafeHtml
    by: int
    hidden_by: int | None = None
    name: str = ""
    line: int = 0
