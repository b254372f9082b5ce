"""What of a page is its own. A program puts the same frame around every page of a tree: marks, links to all parts, and
lines about itself; where elements do not say so, it is told by standing in most pages, above or below what differs."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Iterator
from hashlib import blake2b

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.sources.htmltrees.selectors import is_compound

#: Elements and roles for what is around a page's content (HTML, section 4.3; WAI-ARIA 1.2, section 5.3.4).
_AROUND = ("script,style,noscript,template,nav,[role=navigation],[role=banner],[role=contentinfo],[role=search],"
           "body>header,body>footer,body>div>header,body>div>footer")  # fmt: skip
_MAIN = "main,[role=main]"
#: Links of a page as a whole to those around it (section 4.6.7; ``up``, ``contents``, ``start``: HTML 4.01, 6.12).
_NEIGHBOURS = frozenset("prev previous next up first last start home top contents toc index".split())
#: Years, days and times of day, which programs put below their pages.
_WHEN = re.compile(r"\b(?:19|20)\d\d\b|\b\d{1,2}[:./-]\d{1,2}\b(?:[:./-]\d{1,4}\b)?")
#: What may hold the frame as well as the content.
_WRAPPERS = frozenset("div section article table tbody tr td center font span form".split())
#: Parts of a line: what stands beside them belongs to them.
INLINE = frozenset("a abbr b big br cite code em i img kbd q s samp small strong sub sup tt u var".split())
#: Of links to neighbours: longer is a list that someone reads.
_MOST_LINKED, _MOST_TEXT = 400, 4_000
_DEPTH = 6
_LETTERS = re.compile(r"[^\W_]+")
#: What is seen without a word.
_SHOWN = "img,svg,object,video,iframe,input,math,canvas"
#: In so large a part of the pages stands what is of the frame.
_SHARE = 0.5
_FEWEST = 3


def common_blocks(pages: Iterable[LexborHTMLParser]) -> frozenset[bytes]:
    """Digests of the blocks of a tree's frame, from some of its pages."""
    counts: Counter[bytes] = Counter()
    read = 0
    for document in pages:
        read += 1
        root = root_of(document, "")
        if root is not None:
            counts.update(set(_blocks(root, 0)))
    return frozenset(digest for digest, count in counts.items() if count >= max(_FEWEST, read * _SHARE))


def root_of(document: LexborHTMLParser, selector: str) -> LexborNode | None:
    """The element that holds a page's content. selector: a compound of CSS, or empty; what is none says nothing."""
    if is_compound(selector) and (chosen := document.css_first(selector)) is not None:
        return chosen
    mains = document.css(_MAIN)
    return mains[0] if len(mains) == 1 else document.body


_DIGEST_BYTES = 8


def frame_digests(told: Iterable[str]) -> frozenset[bytes]:
    """Blocks of a tree's frame, from their digests in hexadecimal; what is none is no block."""
    return frozenset(bytes.fromhex(digest) for digest in told if len(digest) == 2 * _DIGEST_BYTES)


def cut_frame(root: LexborNode, common: frozenset[bytes], neighbours: frozenset[str] = frozenset()) -> list[str]:
    """Take out of a page's content what is not its own; the places that went with it. neighbours: as neighbours_of
    gives them."""
    cut = _Cut(common, neighbours)
    for node in root.css(_AROUND):
        cut.remove(node)
    for from_end in (False, True):
        cut.trim(root, from_end)
    return cut.gone


def neighbours_of(document: LexborHTMLParser) -> frozenset[str]:
    """The addresses that a page gives as those of the pages around it."""
    links = (link.attributes for link in document.css("link[rel][href]"))
    return frozenset(
        link["href"] or "" for link in links if not _NEIGHBOURS.isdisjoint((link["rel"] or "").lower().split())
    )


class _Cut:
    """Takes the frame off a page's content, from outside inwards. gone: the places that went with it."""

    def __init__(self, common: frozenset[bytes], neighbours: frozenset[str]) -> None:
        self._common, self._neighbours = common, neighbours
        self.gone: list[str] = []

    def remove(self, node: LexborNode) -> None:
        for inner in node.css(":is([id],a[name])"):
            if name := inner.attributes.get("id") or inner.attributes.get("name"):
                self.gone.append(name)
        node.decompose()

    def trim(self, outer: LexborNode, from_end: bool, depth: int = 0) -> None:
        """Up to the first thing, or down to the last one, that is the page's own."""
        node = outer.last_child if from_end else outer.first_child
        while node is not None:
            following = node.prev if from_end else node.next
            if node.is_element_node:
                if not self._is_of_frame(node, outer):
                    if node.tag in _WRAPPERS and depth < _DEPTH:
                        self.trim(node, from_end, depth + 1)
                    return
                self.remove(node)
            elif node.is_text_node and node.text_content and node.text_content.strip():
                return
            node = following

    def _is_of_frame(self, node: LexborNode, outer: LexborNode) -> bool:
        text = node.text()
        if not text.strip() and node.css_first(_SHOWN) is None:
            return True
        if node.tag in INLINE or len(text) > _MOST_TEXT:
            return False
        if _digest(node, text) in self._common:
            return True
        # A page that is a list of links, and no more, is one for readers.
        return self._leads_around(node, text) and len(text.strip()) != len(outer.text().strip())

    def _leads_around(self, node: LexborNode, text: str) -> bool:
        """Whether an element is little but links to other pages: the one before, the one after, those above. What has
        a place of its own may be led to: it is none."""
        words = _letters_in(text)
        own = node.css("h1,h2,h3,h4,dl,pre,code,[id],a[name]")
        if words > _MOST_LINKED or any(inner.mem_id != node.mem_id for inner in own):
            return False
        links = [(link, link.attributes.get("href") or "#") for link in node.css("a[href]")]
        if sum(href in self._neighbours for _, href in links) > 1:
            return True
        away = [link for link, href in links if not href.startswith("#")]
        linked = sum(_letters_in(link.text()) for link in away)
        return len(away) > 1 and 2 * linked > words


def _blocks(outer: LexborNode, depth: int) -> Iterator[bytes]:
    for node in outer.iter():
        text = node.text()
        if len(text) <= _MOST_TEXT:
            yield _digest(node, text)
        if node.tag in _WRAPPERS and depth < _DEPTH:
            yield from _blocks(node, depth + 1)


def _letters_in(text: str) -> int:
    return sum(map(len, _LETTERS.findall(text)))


def _digest(node: LexborNode, text: str) -> bytes:
    return blake2b(f"{node.tag} {_WHEN.sub('0', ' '.join(text.split()))}".encode(), digest_size=_DIGEST_BYTES).digest()
