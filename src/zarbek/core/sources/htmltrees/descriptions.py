"""What a page says of what it declares: the first words after it, and whether it is deprecated."""

from __future__ import annotations

import re

from selectolax.lexbor import LexborNode

from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.lines import Lines
from zarbek.core.sources.markup.html import escape_text

#: Lines that are prose, where they have several words.
_PROSE = frozenset("p dd div li blockquote".split())
_DEPRECATED = re.compile(
    r"deprecated\b[\s.:,;]*(?:since\s+(?:version\s+)?v?(?P<since>\d[\w.]*)[\s.:,;]*)?", re.IGNORECASE
)
_SENTENCE = re.compile(r"(?<=[.!?])\s+(?=[A-Z\"'(\[])")
#: So many lines after a declaration are its own, and so long is what is taken of one.
_AHEAD, _FEWEST_WORDS, _MOST = 24, 3, 400


def doc_after(line: LexborNode, symbol: Symbol, lines: Lines) -> Doc | None:
    """The text of an element. line: the one that names it."""
    declared = {_bare(signature.text) for signature in symbol.signatures} | {_bare(lines.said(line))}
    summary = ""
    for following in lines.after(line, _AHEAD):
        text = lines.said(following)
        if following.tag in ("h1", "h2", "h3", "h4", "h5", "h6") or (following.tag == "dt" and summary):
            break
        if (found := _DEPRECATED.match(text)) is not None:
            return Doc(escape_text(summary), deprecated=_deprecation(found, text, following, lines))
        if not summary and following.tag in _PROSE and _is_prose(text) and _bare(text) not in declared:
            summary = _SENTENCE.split(text, maxsplit=1)[0][:_MOST]
    return Doc(escape_text(summary)) if summary else None


def _deprecation(found: re.Match[str], text: str, line: LexborNode, lines: Lines) -> Deprecation:
    rest = text[found.end() :]
    if not rest:
        following = next(lines.after(line, 1), None)
        rest = lines.said(following) if following is not None and following.tag in _PROSE else ""
    return Deprecation(found["since"] or "", escape_text(rest[:_MOST]))


def _is_prose(text: str) -> bool:
    words = text.split(maxsplit=_FEWEST_WORDS)
    return (
        len(words) >= _FEWEST_WORDS
        and sum(word[0].isalpha() for word in words) >= _FEWEST_WORDS - 1
        and not text.endswith(";")
    )


def _bare(text: str) -> str:
    return "".join(text.replace("\u200b", "").split())
