"""Pages: authored prose."""

from __future__ import annotations

import re
from typing import Literal, NamedTuple

import msgspec

from zarbek.core.model.limits import File, Fingerprint, Label, Number, Path, Title
from zarbek.core.model.mention import Mention
from zarbek.core.model.supplement import Supplement

#: What a guide may keep away from: the table of contents, search.
Hidden = Literal["contents", "search"]


class Heading(msgspec.Struct, frozen=True, array_like=True):
    """level: 1 to 6. anchor: the fragment that addresses it."""

    level: int
    title: str
    anchor: str


class Documented(msgspec.Struct, frozen=True, array_like=True):
    """An element that a page of a tree tells of. path: of its symbol. anchor: its place; empty for the whole page."""

    path: Path
    anchor: Title = ""


class Caption(msgspec.Struct, frozen=True, array_like=True):
    """A figure, table, listing or example that has a line of its own. title: without markup. anchor: the fragment that
    addresses it."""

    kind: Literal["figure", "table", "listing", "example"]
    title: Title
    anchor: Title


class Named(msgspec.Struct, frozen=True, array_like=True):
    """A place to which texts refer by ``label:NAME``. anchor: the fragment that addresses it. of: anchor of the heading
    or caption that it stands at, empty for a place within a text. title: of a term its words, else empty."""

    name: Title
    anchor: Title
    of: Title = ""
    title: Title = ""


def label_key(name: str) -> str:
    """By what a label is found: letters of one case, and no difference between what stands between its words."""
    return re.sub(r"[\s_-]+", "-", name.strip().lower())


class Section(NamedTuple):
    """What a page says below one heading. anchor: its place, empty for what stands before all of them; title: the
    heading, empty for the same; text: without markup."""

    anchor: str
    title: str
    text: str


class Page(msgspec.Struct, frozen=True, omit_defaults=True):
    """A guide, or a page of a tree of HTML. path: address inside the release, of a guide without suffix; text:
    CommonMark, or a whole document where form is ``html``.

    order: place in the table of contents from 0; -1 when no table of contents reaches it.
    depth: nesting in the table of contents. anchors: places besides the headings that the text names itself; labels:
    those to which other guides refer by name. numbered: whether its chapter and parts have numbers.
    formerly: paths under which it was before. hidden: where readers do not come upon it. variants: flags by which
    editions have it or not.
    """

    path: File
    title: Title
    text: str
    file: File
    summary: str = ""
    order: Number = -1
    depth: Number = 0
    #: The line of the file on which ``text`` begins (after front matter).
    line: Number = 1
    headings: list[Heading] = []
    mentions: list[Mention] = []
    anchors: list[str] = []
    captions: list[Caption] = []
    labels: list[Named] = []
    numbered: bool = False
    formerly: list[File] = []
    hidden: list[Hidden] = []
    variants: list[Label] = []
    #: What it says of elements, where it is no guide but a supplement.
    supplement: Supplement | None = None
    #: CommonMark as it was written, HTML, or CommonMark that was made: its lines are not those of the file.
    form: Literal["", "html", "made"] = ""
    #: Of a page of a tree, as BCP 47 has it, where it says so.
    language: Label = ""
    #: Of a page of a tree: digest of its own words, the file to which it sends its readers, and what it tells of.
    said: Fingerprint = ""
    moved_to: File = ""
    documents: list[Documented] = []
