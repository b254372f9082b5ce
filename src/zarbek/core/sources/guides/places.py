"""The places of a guide: its headings, what has a caption, terms, and those that its author named."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field

from markdown_it.token import Token

from zarbek.core.model.page import Caption, Heading, Named
from zarbek.core.sources.guides.dialect import (
    BLOCK,
    CAPTIONED,
    GLOSSARY,
    PLACE,
    block_name,
    caption_of,
    commonmark,
    without_places,
)
from zarbek.core.sources.markup.inline import role_text, term_label

_SLUG = re.compile(r"[^\w\- ]+")
_OPENS = tuple(f"container_{name}_open" for name in CAPTIONED)
_GLOSSARY = f"container_{GLOSSARY}_"


@dataclass(slots=True)
class Places:
    """In the order of the text."""

    headings: list[Heading] = field(default_factory=list)
    captions: list[Caption] = field(default_factory=list)
    anchors: list[str] = field(default_factory=list)
    labels: list[Named] = field(default_factory=list)


def anchor_of(title: str, taken: dict[str, int]) -> str:
    """A heading's fragment: lower case, words joined by hyphens; repeats are numbered from 1."""
    base = slug_of(title)
    count = taken.get(base, 0)
    taken[base] = count + 1
    return f"{base}-{count}" if count else base


def slug_of(title: str) -> str:
    """Lower case, words joined by hyphens."""
    return _SLUG.sub("", title.strip().lower()).replace(" ", "-") or "section"


def words_of(token: Token) -> str:
    """What a reader sees of a part of a line."""
    return role_text(token.meta["name"], token.content).shown if token.type == "myst_role" else token.content


def _shown(line: Token) -> str:
    """What a reader sees of a line."""
    return without_places("".join(map(words_of, line.children or []))).strip()


def read_places(tokens: list[Token]) -> Places:
    """All places of a parsed guide. A place that is named in a line of its own is of what follows it."""
    reader = _Reader()
    for index, token in enumerate(tokens):
        reader.read(token, tokens[index + 1] if index + 1 < len(tokens) else None)
    return reader.places


def _named(text: str) -> Iterator[str]:
    """The places that a text names."""
    if "<" in text or "{" in text:
        yield from (found[1] or found[2] for found in PLACE.finditer(text) if found[1] or found[2])


def block_anchor(name: str) -> str:
    """The place of a block."""
    return f"block-{name}"


def text_of_block(text: str, anchor: str) -> str | None:
    """What a block of a guide says, by its place; None where there is none. text: of the guide, CommonMark."""
    lines = text.split("\n")
    for token in commonmark().parse(text):
        if token.type == f"container_{BLOCK}_open" and token.map and block_anchor(block_name(token.info)) == anchor:
            begin, end = token.map
            closed = lines[end - 1].strip().startswith(":::") if end - 1 > begin and end <= len(lines) else False
            return "\n".join(lines[begin + 1 : end - closed]).strip("\n")
    return None


class _Reader:
    def __init__(self) -> None:
        self.places = Places()
        self._taken: dict[str, int] = {}
        self._waiting: list[str] = []
        self._of, self._glossaries = "", 0

    def read(self, token: Token, after: Token | None) -> None:
        if token.type == "heading_open":
            title = _shown(after) if after is not None else ""
            self._of = anchor_of(title, self._taken)
            self.places.headings.append(Heading(int(token.tag[1]), title, self._of))
            self._settle(self._of)
        elif token.type in _OPENS:
            self._caption(token.info)
        elif token.type.startswith(_GLOSSARY):
            self._glossaries += token.nesting
        elif token.type == f"container_{BLOCK}_open" and (name := block_name(token.info)):
            self.places.anchors.append(block_anchor(name))
            self.places.labels.append(Named(f"{BLOCK}:{name}", block_anchor(name), "", name))
        elif token.type == "inline":
            self._inline(token)
        elif token.type == "heading_close":
            self._of = ""
        elif token.type == "dt_open" and self._glossaries and after is not None:
            self._term(_shown(after))

    def _caption(self, info: str) -> None:
        kind, told, label = caption_of(info)
        title = _shown(commonmark().parseInline(told)[0])
        anchor = label or anchor_of(f"{kind} {title}", self._taken)
        self.places.captions.append(Caption(kind, title, anchor))  # type: ignore[arg-type]  # One of CAPTIONED.
        self.places.anchors.append(anchor)
        if label:
            self.places.labels.append(Named(label, label, anchor))
        self._settle(anchor)

    def _term(self, title: str) -> None:
        anchor = f"term-{slug_of(title)}"
        self.places.anchors.append(anchor)
        self.places.labels.append(Named(term_label(title), anchor, "", title))

    def _inline(self, token: Token) -> None:
        parts = token.children or []
        texts = [c.content for c in parts if c.type == "text"]
        named = list(_named("\n".join(texts)))
        self.places.anchors += named
        is_alone = len(texts) == len(parts) and not without_places("".join(texts)).strip()
        if named and is_alone and not self._of:
            self._waiting += named
            return
        self.places.labels += [Named(name, name, self._of) for name in named]
        self._settle("")

    def _settle(self, of: str) -> None:
        """What was named before a block is that block."""
        self.places.labels += [Named(name, name, of) for name in self._waiting]
        self._waiting = []
