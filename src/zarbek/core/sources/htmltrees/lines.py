"""Lines of a page: elements that a reader takes for one, a heading, a term, a paragraph, a cell. Source: HTML Living
Standard, sections 4.3 to 4.4 and 4.9."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import islice

from selectolax.lexbor import LexborNode

from zarbek.core.sources.htmltrees.page_reader import HEADINGS, said

#: Elements that are lines of their own.
_LINES = frozenset("h1 h2 h3 h4 h5 h6 dt p pre td th li caption summary".split())
#: Elements that stand apart from what is before and after them.
_BLOCKS = _LINES | frozenset(
    "address article aside blockquote body center dd details div dl fieldset figcaption figure footer form header hr "
    "html main menu nav ol section table tbody tfoot thead tr ul".split()
)
_WHOLE = _LINES - {"td", "th", "li", "dt"}
_HOLDERS = frozenset("table tbody thead tfoot tr ul ol dl hr html body".split())
#: What has more in it is no line.
_MOST_CHILDREN = 500
#: So many nodes are looked at from a place for what it is of, and for each line after that.
_FIRST_REACH, _REACH = 60, 15


class Lines:
    """The lines of one page. What an element says is asked of it once, however many places it has."""

    def __init__(self) -> None:
        self._said: dict[int, str] = {}

    def said(self, node: LexborNode) -> str:
        """The words of an element."""
        known = self._said.get(node.mem_id)
        if known is None:
            known = self._said[node.mem_id] = said(node)
        return known

    def at(self, place: LexborNode) -> LexborNode | None:
        """The line that a place is of: what it stands in, else the first that follows; None where none is near."""
        outer = place
        while outer.tag not in _BLOCKS:
            if outer.parent is None:
                return None
            outer = outer.parent
        is_own = outer.mem_id == place.mem_id
        if (is_own or outer.tag in _LINES) and _is_line(outer) and self.said(outer):
            return outer
        found = islice(self._from(place.first_child if is_own else _past(place), _FIRST_REACH), 2 if is_own else 1)
        first, second = next(found, None), next(found, None)
        return second if first is not None and second is not None and _is_beside(first, second, place) else first

    def after(self, line: LexborNode, most: int) -> Iterator[LexborNode]:
        """The lines that follow one, in order, as far as is worth looking."""
        return islice(self._from(_past(line), _REACH * most), most)

    def of(self, block: LexborNode, most: int) -> Iterator[LexborNode]:
        """The first lines of an element."""
        return islice(self._from(block.first_child, _REACH * most), most)

    def _from(self, node: LexborNode | None, reach: int) -> Iterator[LexborNode]:
        for _ in range(reach):
            if node is None:
                return
            if node.is_element_node and node.tag in _BLOCKS:
                if _is_line(node):
                    if self.said(node):
                        yield node
                    node = _past(node)
                    continue
                node = node.first_child or _past(node)
            else:
                node = _past(node)


def _is_beside(line: LexborNode, other: LexborNode, place: LexborNode) -> bool:
    """Whether a line is but a link that stands before the heading of a place."""
    if line.tag in HEADINGS or other.tag not in HEADINGS:
        return False
    link = line.css_first("a[href]")
    return link is not None and said(link) == said(line) and _is_in(other, place)


def _is_in(node: LexborNode, outer: LexborNode) -> bool:
    at: LexborNode | None = node
    while at is not None and at.mem_id != outer.mem_id:
        at = at.parent
    return at is not None


def _is_line(node: LexborNode) -> bool:
    if node.tag in _WHOLE:
        return True
    if node.tag in _HOLDERS:
        return False
    child = node.first_child
    for _ in range(_MOST_CHILDREN):
        if child is None:
            return True
        if child.is_element_node and child.tag in _BLOCKS and child.tag != "p":
            return False
        child = child.next
    return False


def _past(node: LexborNode) -> LexborNode | None:
    """What follows an element and all in it."""
    at: LexborNode | None = node
    while at is not None:
        if at.next is not None:
            return at.next
        at = at.parent
    return None
