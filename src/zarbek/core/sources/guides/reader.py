"""Guides: Markdown files to pages. Sources: CommonMark 0.31; front matter is YAML."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Iterator
from functools import cache
from typing import Any
from urllib.parse import unquote

import frontmatter
import yaml
from markdown_it import MarkdownIt
from markdown_it.token import Token
from mdit_py_plugins.footnote import footnote_plugin
from mdit_py_plugins.myst_role import myst_role_plugin
from msgspec.structs import replace

from zarbek.core.model.example import EXERCISED, QUOTED
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_TITLE, is_dear
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.page import Heading, Page
from zarbek.core.sources.guides.anchors import anchor_of
from zarbek.core.sources.guides.parts import Parts, splice
from zarbek.core.sources.markup.code_names import QUALIFIED
from zarbek.core.sources.markup.inline import role_text

_NAME = re.compile(r"[A-Za-z_][\w]*(?:\.[A-Za-z_]\w*)*(\(\))?\Z")
#: A place that the author named (HTML, section 3.2.6 and, obsolete, 16.2).
_ANCHOR = re.compile(r"<a\s+(?:id|name)\s*=\s*[\"']?([\w.:-]+)[\"']?\s*/?>|</a>", re.IGNORECASE)
#: A block of code that says which test it quotes.
_QUOTES = re.compile(r"(?:^|\s)example=(\S+)")
#: With which code names what it stands in.
_OWN = ("self.", "cls.", "this.", "super.")
#: Languages whose names are looked for in blocks of code, and how many of one block.
_OF_CODE = frozenset(
    "python py pycon java kotlin kt c cpp c++ csharp cs javascript js typescript ts go rust rs".split()
)
MAX_NAMES = 60
_BREAKS = ("softbreak", "hardbreak")


@cache
def commonmark() -> MarkdownIt:
    """The one CommonMark parser, with tables, strikethrough and footnotes; raw HTML is text."""
    parser = MarkdownIt("commonmark", {"html": False}).enable(["table", "strikethrough"])
    return parser.use(footnote_plugin).use(myst_role_plugin)


def read_markdown_guide(raw: str, *, file: str, path: str, parts: Parts) -> tuple[Page, list[Finding]]:
    """One page with what it takes from other files, and what is wrong with that. Raises like ``read_guide``."""
    spliced = splice(raw, file=file, path=path, parts=parts)
    page = read_guide(spliced.text, file=file, path=path)
    if not spliced.lines:
        return page, spliced.findings
    own = raw.split("\n")
    placed = [_placed(mention, spliced.lines[mention.line - 1], own) for mention in page.mentions]
    return replace(page, form="made", line=1, mentions=placed), spliced.findings


def _placed(mention: Mention, line: int, own: list[str]) -> Mention:
    """A mention at a line of the guide's own file; in a part of another it has no column."""
    is_own = own[line - 1][max(mention.column - 1, 0) :].startswith(mention.text)
    return replace(mention, line=line, column=mention.column if is_own else 0)


def read_guide(raw: str, *, file: str, path: str) -> Page:
    """One page. file: as it appears in findings. path: its address, without suffix.

    Raises ValueError with a sentence for people if the front matter is no YAML, or the text none that
    could be set.
    """
    if is_dear(raw):
        raise ValueError("it is too long, or holds more marks than any text, to be set")
    try:
        post = frontmatter.loads(raw)
    except yaml.YAMLError as error:
        raise ValueError(f"the front matter is no YAML: {error}") from error
    text = post.content
    skipped = raw[: raw.find(text)].count("\n") if text else 0
    tokens = commonmark().parse(text)
    headings, mentions = _walk(tokens, raw.split("\n"), skipped, file)
    title = _said(post.metadata, "title") or next((h.title for h in headings), "") or path
    summary = _said(post.metadata, "summary") or _first_paragraph(tokens)
    return Page(
        path=path, title=title[:MAX_TITLE], text=text, file=file, summary=summary, line=skipped + 1,
        headings=headings, mentions=mentions, anchors=_anchors(tokens),
    )  # fmt: skip


def _anchors(tokens: list[Token]) -> list[str]:
    texts = (c.content for t in tokens for c in t.children or () if c.type == "text" and "<" in c.content)
    return list(dict.fromkeys(m[1] for text in texts for m in _ANCHOR.finditer(text) if m[1]))


def _said(metadata: dict[str, Any], key: str) -> str:
    """A value of the front matter that is a text or a number; others may be larger than they look."""
    value = metadata.get(key)
    return str(value) if isinstance(value, str | int | float) else ""


def _first_paragraph(tokens: list[Token]) -> str:
    for index, token in enumerate(tokens):
        if token.type == "paragraph_open" and token.level == 0:
            children = tokens[index + 1].children or []
            return " ".join("".join(" " if c.type in _BREAKS else _words(c) for c in children).split())
    return ""


def _words(token: Token) -> str:
    """What a reader sees of a part of a line."""
    return role_text(token.meta["name"], token.content).shown if token.type == "myst_role" else token.content


def _walk(tokens: list[Token], lines: list[str], skipped: int, file: str) -> tuple[list[Heading], list[Mention]]:
    headings: list[Heading] = []
    mentions: list[Mention] = []
    taken: dict[str, int] = {}
    for index, token in enumerate(tokens):
        if token.type == "heading_open":
            title = _ANCHOR.sub("", "".join(map(_words, tokens[index + 1].children or []))).strip()
            headings.append(Heading(int(token.tag[1]), title, anchor_of(title, taken)))
        if token.type == "fence" and token.map:
            mentions += _of_code(token, token.map[0] + skipped, lines)
        if token.type == "inline" and token.map:
            start = token.map[0] + skipped
            _inline_mentions(token, start, token.map[1] + skipped, lines, file, mentions)
    return headings, mentions


def _of_code(token: Token, line: int, lines: list[str]) -> Iterator[Mention]:
    """What a block of code quotes, and the qualified names in it, each once."""
    quoted = _QUOTES.search(token.info)
    if quoted is not None:
        name = quoted[1] if quoted[1].startswith("api:") else f"api:{quoted[1]}"
        column = lines[line].find(quoted[1]) + 1 if line < len(lines) else 0
        yield Mention(quoted[1], name, "link", QUOTED, line + 1, column)
    if token.info.split(" ")[0].lower() not in _OF_CODE:
        return
    seen: set[str] = set()
    for row, text in enumerate(token.content.split("\n"), start=line + 1):
        for found in QUALIFIED.finditer(text):
            if found[0] not in seen and len(seen) < MAX_NAMES and not found[0].startswith(_OWN):
                seen.add(found[0])
                indent = lines[row].find(found[0]) if row < len(lines) else -1
                yield Mention(found[0], found[0], "code", EXERCISED, row + 1, indent + 1)


def _inline_mentions(token: Token, start: int, end: int, lines: list[str], file: str, mentions: list[Mention]) -> None:
    row, column = start, 0
    for child in token.children or []:
        if child.type in _BREAKS:
            row, column = row + 1, 0
            continue
        found = _mention_of(child, file)
        if found is None:
            continue
        text, name, origin, role = found
        row, column = _locate(text, row, column, end, lines)
        mentions.append(Mention(text, name, origin, "doc", row + 1, column + 1, role))
        column += len(text)


def _locate(text: str, row: int, column: int, end: int, lines: list[str]) -> tuple[int, int]:
    for candidate in range(row, min(end, len(lines))):
        for spelt in (text, unquote(text)):
            at = lines[candidate].find(spelt, column if candidate == row else 0)
            if at >= 0:
                return candidate, at
    return row, 0


def _mention_of(token: Token, file: str) -> tuple[str, str, Origin, str] | None:
    """(text, name, origin, role), or None for what mentions nothing."""
    if token.type == "myst_role":
        said = role_text(token.meta["name"], token.content)
        return (said.target, said.name, "link", said.kind) if said.name else None
    if token.type == "code_inline":
        text = token.content
        return (text, text, "code", "") if _NAME.match(text) else None
    if token.type == "image":
        source = str(token.attrGet("src") or "")
        return None if _is_remote(source) else (source, _join(file, source), "asset", "")
    return _linked(str(token.attrGet("href") or ""), file) if token.type == "link_open" else None


def _linked(href: str, file: str) -> tuple[str, str, Origin, str] | None:
    if href.startswith("api:"):
        return href, href, "link", ""
    if href.startswith(("http://", "https://")):
        return href, href, "url", ""
    if ":" in href.partition("/")[0] or not href:
        return None
    target, _, anchor = href.partition("#")
    joined = _join(file, target) if target else ""
    return href, f"{joined}#{anchor}" if anchor else joined, "page", ""


def _is_remote(address: str) -> bool:
    return "://" in address or address.startswith("data:")


def _join(file: str, relative: str) -> str:
    """The file below the source's root that an address in a guide means; one that begins with ``/`` from there."""
    return posixpath.normpath(posixpath.join(posixpath.dirname(file), unquote(relative))).lstrip("/")
