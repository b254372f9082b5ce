"""One page of a tree: its places, what it leads to, and what it shows. Source: HTML Living Standard (WHATWG)."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.model.limits import MAX_TITLE
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.page import Heading
from zarbek.core.sources.htmltrees.addresses import NO_SITE, Addresses, Site
from zarbek.core.sources.htmltrees.bounds import bounded
from zarbek.core.sources.htmltrees.positions import Positions

#: Elements to the attribute that leads somewhere (sections 4.5.1 and 4.8.13; frames: 4.8.5 and, obsolete, 16.3.3).
_LINKS = "a[href],area[href]"
_FRAMES = "iframe[src],frame[src]"
#: What a page shows (sections 4.8 and 4.10.5.1.19).
_SHOWN = {"img": "src", "source": "src", "video": "src", "audio": "src", "track": "src", "embed": "src",
          "object": "data", "input": "src"}  # fmt: skip
_ASSETS = ",".join(f"{tag}[{attribute}]" for tag, attribute in _SHOWN.items())
#: ``5; url=address`` (section 4.2.5.3).
_REFRESH = re.compile(r"\s*[\d.]*\s*[;,]?\s*(?:url\s*=\s*)?[\"']?([^\"']+)", re.IGNORECASE)


#: Attribute and value to line and column.
Find = Callable[[str, str], tuple[int, int]]


class TreePage(NamedTuple):
    """What a page says. title: of its ``title`` element. anchors: all its places, each once; twice: those that stand
    there again, by line. mentions: what it leads to and shows; field: the element. refresh: where browsers are sent at
    once. language: as BCP 47 has it, or empty."""

    title: str
    language: str
    headings: list[Heading]
    anchors: list[str]
    twice: list[tuple[str, int]]
    mentions: list[Mention]
    refresh: Mention | None
    document: LexborHTMLParser


def parse_page(text: str) -> LexborHTMLParser:
    """A page as browsers take it, within bounds."""
    return LexborHTMLParser(bounded(text).encode())


def addresses_of(document: LexborHTMLParser, file: str, site: Site = NO_SITE) -> Addresses:
    """Reads the addresses of a page. file: below the source's root."""
    base = document.css_first("base[href]")
    return Addresses(file, (base.attributes.get("href") or "") if base else "", site)


def read_page(text: str, file: str, site: Site = NO_SITE) -> TreePage:
    """A page from its text. file: below the source's root."""
    document = parse_page(text)
    reader = _PageReader(text, addresses_of(document, file, site))
    reader.read(document)
    title, root = document.css_first("title"), document.root
    return TreePage(
        said(title)[:MAX_TITLE] if title else "", (root.attributes.get("lang") or "")[:40] if root else "",
        reader.headings, list(reader.anchors), reader.twice, reader.mentions, reader.refresh(document), document,
    )  # fmt: skip


def said(node: LexborNode) -> str:
    """The words of an element, as a reader sees them."""
    return " ".join(node.text(deep=True).replace("\u00b6", " ").split())


class _PageReader:
    def __init__(self, text: str, addresses: Addresses) -> None:
        self._text, self._addresses = text, addresses
        self.headings: list[Heading] = []
        self.anchors: dict[str, None] = {}
        self.twice: list[tuple[str, int]] = []
        self.mentions: list[Mention] = []

    def read(self, document: LexborHTMLParser) -> None:
        self._read_places(document)
        find = Positions(self._text).find
        for node in document.css(_LINKS):
            self._lead(node.tag, "href", node.attributes.get("href"), find)
        for node in document.css(_FRAMES):
            self._lead(node.tag, "src", node.attributes.get("src"), Positions(self._text).find)
        find = Positions(self._text).find
        for node in document.css(_ASSETS):
            attribute = _SHOWN[node.tag or ""]
            self._lead(node.tag, attribute, node.attributes.get(attribute), find, "asset")
        for node in document.css("link[href][rel]"):
            if not {"stylesheet", "icon"}.isdisjoint((node.attributes.get("rel") or "").lower().split()):
                self._lead("link", "href", node.attributes.get("href"), Positions(self._text).find, "asset")
        for node in document.css("h1,h2,h3,h4,h5,h6"):
            if not _is_around(node):
                self.headings.append(Heading(int((node.tag or "h6")[1]), said(node)[:MAX_TITLE], anchor_of(node)))

    def _read_places(self, document: LexborHTMLParser) -> None:
        for node in document.css(":is([id],a[name])"):
            attributes = node.attributes
            identity = attributes.get("id")
            if identity:
                self._place(identity, "id")
            if node.tag == "a" and (name := attributes.get("name")) and name != identity:
                self._place(name, "name")

    def _place(self, name: str, attribute: str) -> None:
        if name in self.anchors:
            self.twice.append((name, self._line_of_second(attribute, name)))
        self.anchors[name] = None

    def _line_of_second(self, attribute: str, name: str) -> int:
        positions = Positions(self._text)
        first = positions.find(attribute, name)
        second = positions.find(attribute, name)
        return second[0] or first[0]

    def _lead(self, tag: str | None, attribute: str, value: str | None, find: Find, origin: Origin = "page") -> None:
        if value is None:
            return
        mention = self._mention(tag or "", attribute, value, find, origin)
        if mention is not None:
            self.mentions.append(mention)

    def _mention(self, tag: str, attribute: str, value: str, find: Find, origin: Origin) -> Mention | None:
        kind, path, fragment = self._addresses.read(value)
        if kind == "none":
            return None
        line, column = find(attribute, value)
        if kind == "url":
            return Mention(value, path, "url", tag, line, column)
        return Mention(value, f"{path}#{fragment}" if fragment else path, origin, tag, line, column)

    def refresh(self, document: LexborHTMLParser) -> Mention | None:
        """Where a ``meta`` element sends browsers."""
        for node in document.css("meta[http-equiv][content]"):
            content = node.attributes.get("content") or ""
            if (node.attributes.get("http-equiv") or "").lower() == "refresh" and (found := _REFRESH.match(content)):
                return self._mention("meta", "content", found[1].strip(), Positions(self._text).find, "page")
        return None


def _is_around(node: LexborNode) -> bool:
    """Whether an element is of what is around a page's content (sections 4.3.4 and 4.3.8)."""
    outer = node.parent
    while outer is not None and outer.tag not in ("main", "article", "section", "body"):
        if outer.tag in ("nav", "header", "footer", "aside"):
            return True
        outer = outer.parent
    return False


def anchor_of(heading: LexborNode) -> str:
    """The place of a heading: its own, one within it, or that of what it begins."""
    if identity := heading.attributes.get("id"):
        return identity
    for inner in heading.css("[id],a[name]"):
        if found := inner.attributes.get("id") or inner.attributes.get("name"):
            return found
    before = next(_before(heading), None)
    if before is not None and (place := _place_at_end(before)):
        return place
    outer = heading.parent
    if outer is not None and outer.tag in ("section", "article", "div") and before is None:
        return outer.attributes.get("id") or ""
    return ""


def _place_at_end(node: LexborNode) -> str:
    """The place that an ``a`` names which is the last thing in an element; programs put one before what it is of."""
    while node.tag != "a":
        last = node.last_child
        if last is None or not last.is_element_node:
            return ""
        node = last
    return node.attributes.get("id") or node.attributes.get("name") or ""


def _before(node: LexborNode) -> Iterator[LexborNode]:
    """The elements before one, with the same parent, the nearest first."""
    while (found := node.prev) is not None:
        if found.is_element_node:
            yield found
        node = found
