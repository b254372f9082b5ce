"""The words around a mention, as a reader sees them."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from functools import lru_cache
from html import unescape

import msgspec

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.plain_text import LINK, plain_text

_NEW_BLOCK = re.compile(r" {0,3}([-*+>#|]|\d+[.)]|:::|```)")
#: What parts a text into paragraphs and entries of lists.
_BLOCK = re.compile(r"\n\n|\n\s*(?:[-*+]|\d+[.)])\s|\A(?:[-*+]|\d+[.)])\s")
#: A tag, or what is left of one at an end.
_TAG = re.compile(r"<[^>]*>|^[^<]*?>(?=[^<]*<)|<[^>]*$")
#: A role with words of its own.
_TITLED = re.compile(r"(?<=\})`([^`<]+?) ?<([^`>]+)>`")
#: The name of a role, right before what it holds.
_ROLE = re.compile(r"\{[a-z][\w:+.-]*\}$")
REACH = 90
#: So much markup is read before and after a link: a page may stand on one line.
_NEAR = 4_000


def around_in_symbol(symbol: Symbol, mention: Mention) -> tuple[str, str, str]:
    """(before, shown text, after) of one mention, each on one line; empty where unknown."""
    if mention.origin in ("type", "base"):
        return _in_signature(symbol, mention)
    if symbol.doc is not None:
        places = [place for text in texts_of(symbol.doc) for place in _in_text(text, mention)]
        if places:
            return places[min(_repeats(symbol.mentions, mention), len(places) - 1)]
    return "", mention.text, ""


def is_history(symbol: Symbol, mention: Mention) -> bool:
    """Whether a mention stands only in notes of what changed in earlier releases."""
    doc = symbol.doc
    if doc is None or not any(any(_in_text(change.text, mention)) for change in doc.changes):
        return False
    told = msgspec.structs.replace(doc, changes=[])
    return not any(any(_in_text(text, mention)) for text in texts_of(told))


def _repeats(mentions: Iterable[Mention], mention: Mention) -> int:
    """How many mentions written alike come before one."""
    count = 0
    for other in mentions:
        if other is mention:
            return count
        count += (other.address, other.text) == (mention.address, mention.text)
    return 0


def around_in_page(page: Page, mention: Mention) -> tuple[str, str, str]:
    """The line before a mention in a guide, its own text, and the line after."""
    at = mention.line - page.line
    if page.form == "html":
        begins = _line_begins(page.text)
        if not 0 <= at < len(begins) - 1:
            return "", mention.text, ""
        start = begins[at] + max(mention.column - 1, 0)
        first = max(begins[max(at - 3, 0)], start - _NEAR)
        return _in_html(
            page.text[first : min(begins[min(at + 4, len(begins) - 1)], start + _NEAR)], start - first, mention
        )
    if page.form == "made":  # Its lines are those of what was written, not of the text.
        return next(_in_text(page.text, mention), ("", mention.text, ""))
    lines = page.text.split("\n")
    if not 0 <= at < len(lines):
        return "", mention.text, ""
    start = end = at
    while start > 0 and lines[start - 1].strip() and not _NEW_BLOCK.match(lines[start]):
        start -= 1
    while end + 1 < len(lines) and lines[end + 1].strip() and not _NEW_BLOCK.match(lines[end + 1]):
        end += 1
    return next(_in_text("\n".join(lines[start : end + 1]), mention), ("", mention.text, ""))


@lru_cache(maxsize=2)
def _line_begins(text: str) -> list[int]:
    """Where each line of a page begins, and its end."""
    return [0, *(match.end() for match in re.finditer("\n", text)), len(text)]


def _in_html(text: str, start: int, mention: Mention) -> tuple[str, str, str]:
    """What a reader of a page sees around a link, and its element where a reader sees none. start: where its attribute,
    or its line, begins."""
    at = text.find(mention.text, start)
    begin, end = text.rfind("<", 0, max(at, 0)), text.find(">", at) + 1
    if at < 0 or begin < 0 or end <= 0:
        return "", mention.text, ""
    shown, _, rest = text[end:].partition("</a")
    words = _words(shown) if mention.field == "a" else ""
    if not words:
        return "", " ".join(unescape(text[begin:end]).split())[: 2 * REACH], ""
    before, after = _words(text[:begin]), _words(rest.partition(">")[2])
    if len(before) > REACH:
        before = "…" + before[-REACH:].partition(" ")[2]
    if len(after) > REACH:
        after = after[:REACH].rpartition(" ")[0] + "…"
    return f"{before} " if before else "", words, f" {after}" if after[:1].isalnum() else after


def _words(markup: str) -> str:
    return " ".join(unescape(_TAG.sub(" ", markup)).split())


def texts_of(doc: Doc) -> Iterator[str]:
    """Every text of a doc, in reading order."""
    yield doc.summary
    yield doc.body
    groups = (doc.parameters, doc.returns, doc.yields, doc.raises, doc.attributes, doc.see)
    for group in groups:
        for field in group:
            yield field.text
    for section in doc.sections:
        yield section.text
    for change in doc.changes:
        yield change.text
    if doc.deprecated is not None:
        yield doc.deprecated.text


def _in_text(text: str, mention: Mention) -> Iterator[tuple[str, str, str]]:
    """The places of a text where a mention may stand, in order; as code only where it stands as no link."""
    is_link = False
    for match in LINK.finditer(text):
        if match[2].strip("<>") in (mention.address, mention.text):
            is_link = True
            yield _cut(text, match.start(), match.end(), plain_text(match[1]))
    span = f"`{mention.text.lstrip('~!')}`"
    at = -1 if is_link else text.find(span)
    while at >= 0:
        yield _cut(text, at, at + len(span), mention.text)
        at = text.find(span, at + len(span))
    for match in _TITLED.finditer(text) if mention.origin == "label" else ():
        if match[2] == mention.text:
            yield _cut(text, match.start(), match.end(), match[1])


def _cut(text: str, start: int, end: int, shown: str) -> tuple[str, str, str]:
    before = plain_text(_ROLE.sub("", _BLOCK.split(text[:start])[-1]))
    after = plain_text(_BLOCK.split(text[end:], maxsplit=1)[0])
    sentence = max(before.rfind(". "), before.rfind("! "), before.rfind("? "))
    if sentence >= 0:
        before = before[sentence + 2 :]
    if len(before) > REACH:
        before = "…" + before[-REACH:].partition(" ")[2]
    stop = re.search(r"[.!?](?= |$)", after)
    if stop:
        after = after[: stop.end()]
    if len(after) > REACH:
        after = after[:REACH].rpartition(" ")[0] + "…"
    return before, shown, after


def _in_signature(symbol: Symbol, mention: Mention) -> tuple[str, str, str]:
    if mention.origin == "base":
        return f"class {symbol.name}(", mention.text, ")"
    if mention.field == "returns":
        return f"{symbol.name}(…) -> ", mention.text, ""
    if mention.field.startswith("param:"):
        return f"{symbol.name}({mention.field[6:]}: ", mention.text, ")"
    return f"{symbol.name}: ", mention.text, ""
