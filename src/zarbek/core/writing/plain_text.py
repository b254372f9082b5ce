"""CommonMark as plain words."""

from __future__ import annotations

import re

from zarbek.core.model.doc_text import INHERIT

#: A link of doc text: its words, then its address.
LINK = re.compile(r"(?<!\\)\[((?:\\.|[^\[\]\\])*+)\]\((<[^<>\n]*>|api:[^)\s]*|[^)\s]+)\)")
_MARKS = re.compile(r"\{[a-z][\w:+.-]*\}(?=`)|[`*]+|\\(?=\W)|^[>#\-] ?", re.MULTILINE)
#: What opens or ends a block of a guide, and the label of a place.
_COLONS = re.compile(r"^:{3,}[ \t]*[a-z]*|\{#[\w.:-]+\}", re.MULTILINE)
#: A role with words of its own, and what it leads to.
_TITLED = re.compile(r"\{[a-z][\w:+.-]*\}`([^`<]+?) ?<[^`>]+>`")
_FOOTNOTE = re.compile(r"\[\^[^\]]+\]")


def plain_text(text: str) -> str:
    """CommonMark without its marks, on one line; blanks at the ends are kept."""
    text = _FOOTNOTE.sub("", LINK.sub(lambda m: m[1], text.replace(INHERIT, "")))
    text = _TITLED.sub(r"\1", text) if "}`" in text else text
    folded = " ".join(_MARKS.sub("", _COLONS.sub("", text)).split())
    lead = " " if text[:1].isspace() else ""
    return lead + folded + (" " if text[-1:].isspace() and folded else "")
