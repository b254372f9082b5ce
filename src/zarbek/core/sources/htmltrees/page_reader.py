"""One page of a tree: its places, what it leads to, and what it shows. Source: HTML Living Standard (WHATWG)."""

from __future__ import annotations

import re
import unicodedata
from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.model.limits import MAX_TITLE
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.page import Heading
from zarbek.core.sources.htmltrees.addresses import NO_SITE, Addresses, Site
from zarbek.core.sources.htmltrees.bounds import bounded
from zarbek.core.sources.htmltrees.positions import Position, Positions
from zarbek.core.sources.htmltrees.structured_data import NO_DATA, PageData, page_data
from zarbek.core.sources.htmltrees.styles import loaded_by


class _Lead(NamedTuple):
    """Elements that lead somewhere, by a selector of CSS, and the attribute that says where. sign: what every page
    has that has such an element; to look for it costs less than to select."""

    elements: str
    attribute: str
    origin: Origin
    sign: str


#: What leads somewhere (sections 4.5.1 and 4.8.13; frames: 4.8.5 and, obsolete, 16.3.3), or names what a page shows
#: (sections 4.8 and 4.10.5.1.19; ``background``: obsolete, 16.2).
_LEADS = (
    _Lead("a[href],area[href]", "href", "page", "href"),
    _Lead("iframe[src],frame[src]", "src", "page", "frame"),
    _Lead("img[src],source[src],video[src],audio[src],track[src],embed[src],input[src]", "src", "asset", "src"),
    _Lead("img[srcset],source[srcset]", "srcset", "asset", "srcset"),
    _Lead("video[poster]", "poster", "asset", "poster"),
    _Lead("object[data]", "data", "asset", "<object"),
    _Lead("[background]", "background", "asset", "background"),
    _Lead("link[href][rel]", "href", "asset", "<link"),
)
HEADINGS = frozenset({"h1", "h2", "h3", "h4", "h5", "h6"})
#: So much of a style sheet tells it from others of a page.
_BEGINNING = 200
_STYLE = re.compile(r"<style(?=[\s>])[^>]*>", re.IGNORECASE)
#: Of ``link``: what a page loads; others are about it (section 4.6.7).
_LOADED = frozenset({"stylesheet", "icon"})
#: A candidate of ``srcset`` (section 4.8.4.2.1).
_CANDIDATE = re.compile(r"[\s,]*([^\s,]\S*[^\s,]|[^\s,])(?:\s+[^,]*)?")
#: ``5; url=address`` (section 4.2.5.3).
_REFRESH = re.compile(r"\s*[\d.]*\s*[;,]?\s*(?:url\s*=\s*)?[\"']?([^\"']+)", re.IGNORECASE)


class TreePage(NamedTuple):
    """What a page says. title: of its ``title`` element. anchors: all its places, each once; twice: those that stand
    there again, by line. mentions: what it leads to and shows; field: the element. moved_to: where browsers are sent at
    once, or which page of the tree this one says to be a copy of. language: as BCP 47 has it, or empty. data: what it
    says of itself for programs."""

    title: str
    language: str
    headings: list[Heading]
    anchors: list[str]
    twice: list[tuple[str, int]]
    mentions: list[Mention]
    moved_to: Mention | None
    document: LexborHTMLParser
    data: PageData = NO_DATA


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
    reader = _PageReader(text, file, addresses_of(document, file, site))
    reader.read_places(document)
    reader.read_leads(document)
    reader.read_headings(document)
    title, root, data = document.css_first("title"), document.root, page_data(document, text)
    language = (root.attributes.get("lang") if root else "") or data.language
    return TreePage(
        said(title)[:MAX_TITLE] if title else "", language[:40], reader.headings, list(reader.anchors), reader.twice,
        reader.mentions, reader.moved_to(document), document, data,
    )  # fmt: skip


def said(node: LexborNode) -> str:
    """The words of an element, as a reader sees them."""
    return " ".join(node.text(deep=True).replace("\u00b6", " ").split())


def heading_of(node: LexborNode) -> str:
    """The words of a heading without the sign that leads to itself."""
    return without_signs(said(node))


def without_signs(text: str) -> str:
    """Words without the signs at their ends that stand for links."""
    words = text.split()
    while len(words) > 1 and _is_sign(words[0]):
        del words[0]
    while len(words) > 1 and _is_sign(words[-1]):
        del words[-1]
    return " ".join(words)


def _is_sign(word: str) -> bool:
    return len(word) == 1 and (word in "#\u00a7" or (not word.isascii() and unicodedata.category(word)[0] == "S"))


class _PageReader:
    def __init__(self, text: str, file: str, addresses: Addresses) -> None:
        self._text, self._addresses, self._file = text, addresses, file
        self._positions = Positions(text)
        self.headings: list[Heading] = []
        self.anchors: dict[str, None] = {}
        self.twice: list[tuple[str, int]] = []
        self.mentions: list[Mention] = []

    def read_leads(self, document: LexborHTMLParser) -> None:
        """What the page leads to and shows."""
        for lead in _LEADS:
            if self._positions.has(lead.sign):
                self._read_lead(document, *lead)
        begins = (match.end() for match in _STYLE.finditer(self._text))
        for node in document.css("style") if self._positions.has("<style") else ():
            css = node.text() or ""
            at = next((begin for begin in begins if self._text.startswith(css[:_BEGINNING], begin)), 0)
            before = self._text.count("\n", 0, at)
            for address, line in loaded_by(css):
                loaded = self._mention("style", address, Position(before + line, 0), "asset")
                self.mentions += [loaded] if loaded is not None else []

    def _read_lead(
        self, document: LexborHTMLParser, elements: str, attribute: str, origin: Origin, _sign: str
    ) -> None:  # fmt: skip
        find, seen = self._positions.of(attribute).next, Counter[str]()
        for node in document.css(elements):
            value, tag = node.attributes.get(attribute), node.tag or ""
            if value is None or (tag == "link" and not _is_loaded(node)):
                continue
            position = find(value)
            seen[value] += 1
            if not position.column and 0 < self._positions.times(attribute, value) < seen[value]:
                continue  # What mends markup has made a second one of it (section 13.2.6.4.7).
            for address in (value,) if attribute != "srcset" else _CANDIDATE.findall(value):
                if (mention := self._mention(tag, address, position, origin)) is not None:
                    self.mentions.append(mention)

    def read_headings(self, document: LexborHTMLParser) -> None:
        """The headings of the page's content."""
        for node in document.css("h1,h2,h3,h4,h5,h6"):
            if not is_around(node):
                self.headings.append(Heading(int((node.tag or "h6")[1]), heading_of(node)[:MAX_TITLE], anchor_of(node)))

    def read_places(self, document: LexborHTMLParser) -> None:
        """What a link can lead to (section 7.4.6.4)."""
        for node in document.css(":is([id],a[name])"):
            attributes = node.attributes
            identity = attributes.get("id")
            if identity:
                self._place(identity, "id")
            if node.tag == "a" and (name := attributes.get("name")) and name != identity:
                self._place(name, "name")

    def _place(self, name: str, attribute: str) -> None:
        if name in self.anchors and (line := self._positions.second(attribute, name)):
            self.twice.append((name, line))
        self.anchors[name] = None

    def _mention(self, tag: str, value: str, position: Position, origin: Origin = "page") -> Mention | None:
        kind, path, fragment = self._addresses.read(value)
        if kind == "none":
            return None
        line, column = position
        if kind == "url":
            return Mention(value, path, "url", tag, line, column)
        return Mention(value, f"{path}#{fragment}" if fragment else path, origin, tag, line, column)

    def moved_to(self, document: LexborHTMLParser) -> Mention | None:
        """Where a ``meta`` element sends browsers, or a page of the tree that is said to be this one's own place (RFC
        6596); it is a mention, too."""
        moved = self._refresh(document) or self._canonical(document)
        if moved is not None:
            self.mentions.append(moved)
        return moved

    def _canonical(self, document: LexborHTMLParser) -> Mention | None:
        for node in document.css("link[href][rel]"):
            if "canonical" in (node.attributes.get("rel") or "").lower().split():
                value = node.attributes.get("href") or ""
                found = self._mention("link", value, self._positions.of("href").next(value))
                return found if found is not None and found.origin == "page" and found.name != self._file else None
        return None

    def _refresh(self, document: LexborHTMLParser) -> Mention | None:
        for node in document.css("meta[http-equiv][content]"):
            content = node.attributes.get("content") or ""
            if (node.attributes.get("http-equiv") or "").lower() == "refresh" and (found := _REFRESH.match(content)):
                return self._mention("meta", found[1].strip(), self._positions.of("content").next(content))
        return None


def _is_loaded(link: LexborNode) -> bool:
    return not _LOADED.isdisjoint((link.attributes.get("rel") or "").lower().split())


def is_around(node: LexborNode) -> bool:
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
