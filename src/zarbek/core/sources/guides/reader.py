"""Guides: Markdown files to pages. Sources: CommonMark 0.31; front matter is YAML."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any
from urllib.parse import unquote

import frontmatter
import yaml
from markdown_it.token import Token
from msgspec.structs import replace

from zarbek.core.model.doc_text import TEXT
from zarbek.core.model.example import EXERCISED, QUOTED
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_FILE, MAX_TITLE, is_dear
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.page import Hidden, Page
from zarbek.core.sources.guides.dialect import DIAGRAMS, commonmark
from zarbek.core.sources.guides.parts import Parts, joined, splice
from zarbek.core.sources.guides.places import read_places, words_of
from zarbek.core.sources.markup.code_names import QUALIFIED, QUOTED_NAME
from zarbek.core.sources.markup.inline import role_text

_NAME = re.compile(r"[A-Za-z_][\w]*(?:\.[A-Za-z_]\w*)*(\(\))?\Z")
#: A block of code that says which test it quotes.
_QUOTES = re.compile(r"(?:^|\s)example=(\S+)")
#: With which code names what it stands in.
_OWN = ("self.", "cls.", "this.", "super.")
#: Languages whose names are looked for in blocks of code, and how many of one block.
_OF_CODE = frozenset(
    "python py pycon java kotlin kt c cpp c++ csharp cs javascript js typescript ts go rust rs".split()
)
MAX_NAMES = 60
#: Roles that refer to no element.
_ROLES: dict[str, Origin] = {"label": "label", "ref": "label", TEXT: "block"}
_BREAKS = ("softbreak", "hardbreak")
_HIDDEN: tuple[Hidden, ...] = ("contents", "search")
_MAX_LISTED = 100


def read_markdown_guide(
    raw: str, *, file: str, path: str, parts: Parts, numbered: bool = False
) -> tuple[Page, list[Finding]]:
    """One page with what it takes from other files, and what is wrong with that. Raises like ``read_guide``."""
    spliced = splice(raw, file=file, path=path, parts=parts)
    page = read_guide(spliced.text, file=file, path=path, numbered=numbered)
    if not spliced.lines:
        return page, spliced.findings
    own = raw.split("\n")
    placed = [_placed(mention, spliced.lines[mention.line - 1], own) for mention in page.mentions]
    return replace(page, form="made", line=1, mentions=placed), spliced.findings


def _placed(mention: Mention, line: int, own: list[str]) -> Mention:
    """A mention at a line of the guide's own file; in a part of another it has no column."""
    is_own = own[line - 1][max(mention.column - 1, 0) :].startswith(mention.text)
    return replace(mention, line=line, column=mention.column if is_own else 0)


def read_guide(raw: str, *, file: str, path: str, numbered: bool = False) -> Page:
    """One page. file: as it appears in findings. path: its address, without suffix. numbered: whether it has numbers
    unless it says otherwise.

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
    places, mentions = read_places(tokens), _mentions(tokens, raw.split("\n"), skipped, file)
    title = _said(post.metadata, "title") or next((h.title for h in places.headings), "") or path
    summary = _said(post.metadata, "summary") or _first_paragraph(tokens)
    return Page(
        path=path, title=title[:MAX_TITLE], text=text, file=file, summary=summary, line=skipped + 1,
        headings=places.headings, mentions=mentions, anchors=list(dict.fromkeys(places.anchors)),
        captions=places.captions, labels=places.labels, **{"numbered": numbered, **settings_of(post.metadata)},
    )  # fmt: skip


def settings_of(metadata: dict[str, Any]) -> dict[str, Any]:
    """What a guide's front matter says of its place: fields of Page; none where it says nothing.

    Raises ValueError with a sentence for people for what it cannot say.
    """
    settings: dict[str, Any] = {}
    if "numbered" in metadata:
        settings["numbered"] = _is_true(metadata["numbered"], "numbered")
    if "hidden" in metadata:
        settings["hidden"] = _listed(metadata["hidden"], "hidden", _HIDDEN)
    if "flags" in metadata:
        settings["variants"] = _listed(metadata["flags"], "flags")
    if "formerly" in metadata:
        settings["formerly"] = _listed(metadata["formerly"], "formerly")
    return settings


def _is_true(value: object, key: str) -> bool:
    """A value of YAML, or of a field of reStructuredText."""
    if str(value).lower() not in ("true", "yes", "false", "no"):
        raise ValueError(f"{key} in its front matter is neither yes nor no")
    return str(value).lower() in ("true", "yes")


def _listed(value: object, key: str, known: tuple[str, ...] = ()) -> list[str]:
    """A list of YAML, or words with commas between."""
    words = [str(v) for v in value] if isinstance(value, list) else [w.strip() for w in str(value).split(",")]
    for word in words:
        if (known and word not in known) or not 0 < len(word) <= MAX_FILE:
            told = f", not {' or '.join(known)}" if known else ""
            raise ValueError(f"{key} in its front matter names {word[:50]!r}{told}")
    return words[:_MAX_LISTED]


def _said(metadata: dict[str, Any], key: str) -> str:
    """A value of the front matter that is a text or a number; others may be larger than they look."""
    value = metadata.get(key)
    return str(value) if isinstance(value, str | int | float) else ""


def _first_paragraph(tokens: list[Token]) -> str:
    for index, token in enumerate(tokens):
        if token.type == "paragraph_open" and token.level == 0:
            children = tokens[index + 1].children or []
            return " ".join("".join(" " if c.type in _BREAKS else words_of(c) for c in children).split())
    return ""


def _mentions(tokens: list[Token], lines: list[str], skipped: int, file: str) -> list[Mention]:
    mentions: list[Mention] = []
    for token in tokens:
        if token.type == "fence" and token.map:
            mentions += _of_code(token, token.map[0] + skipped, lines)
        if token.type == "inline" and token.map:
            start = token.map[0] + skipped
            _inline_mentions(token, start, token.map[1] + skipped, lines, file, mentions)
    return mentions


def _of_code(token: Token, line: int, lines: list[str]) -> Iterator[Mention]:
    """What a block of code quotes, and the qualified names in it, each once."""
    quoted = _QUOTES.search(token.info)
    if quoted is not None:
        name = quoted[1] if quoted[1].startswith("api:") else f"api:{quoted[1]}"
        column = lines[line].find(quoted[1]) + 1 if line < len(lines) else 0
        yield Mention(quoted[1], name, "link", QUOTED, line + 1, column)
    language = token.info.split(" ")[0].lower()
    if language not in _OF_CODE and language not in DIAGRAMS:
        return
    names = QUOTED_NAME if language in DIAGRAMS else QUALIFIED
    seen: set[str] = set()
    for row, text in enumerate(token.content.split("\n"), start=line + 1):
        for found in names.finditer(text):
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
        origin = _ROLES.get(said.kind, "link")
        return (said.target, said.name, origin, said.kind) if said.name else None
    if token.type == "code_inline":
        text = token.content
        return (text, text, "code", "") if _NAME.match(text) else None
    if token.type == "image":
        source = str(token.attrGet("src") or "")
        return None if _is_remote(source) else (source, joined(file, source), "asset", "")
    return _linked(str(token.attrGet("href") or ""), file) if token.type == "link_open" else None


def _linked(href: str, file: str) -> tuple[str, str, Origin, str] | None:
    if href.startswith("api:"):
        return href, href, "link", ""
    if href.startswith("label:"):
        return href, unquote(href[6:]), "label", "label"
    if href.startswith(("http://", "https://")):
        return href, href, "url", ""
    if ":" in href.partition("/")[0] or not href:
        return None
    target, _, anchor = href.partition("#")
    place = joined(file, target) if target else ""
    return href, f"{place}#{anchor}" if anchor else place, "page", ""


def _is_remote(address: str) -> bool:
    return "://" in address or address.startswith("data:")
