"""Numbers of chapters, parts, figures, tables, listings and examples.

They are counted over the guides in the order of their contents whenever somebody reads them, and stand in no address:
putting something in between changes all that follow, and no link.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import TypeVar

from zarbek.core.linking.index import PageEntry
from zarbek.core.model.page import Caption, Heading

T = TypeVar("T")
#: How many numbers a part's own has at most.
MAX_PARTS = 4


@dataclass(frozen=True, slots=True)
class PageNumbers:
    """number: of the guide, empty for one without. headings: of each of its headings in order; the first has none where
    it is the guide's title. captions: of each of its captions."""

    number: str = ""
    headings: list[str] = field(default_factory=list)
    captions: list[str] = field(default_factory=list)


NO_NUMBERS = PageNumbers()


@dataclass(slots=True)
class _Level:
    """A guide and how many parts it has by now. depth: in the contents."""

    depth: int
    parts: tuple[int, ...]
    count: int = 0

    def next(self) -> tuple[int, ...]:
        self.count += 1
        return (*self.parts, self.count)


def number_pages(pages: Iterable[PageEntry]) -> dict[str, PageNumbers]:
    """Path of a guide to its numbers. pages: of a release, in any order. Those without a place in the contents have
    none. What stands below a guide in the contents goes on behind that one's own parts."""
    found: dict[str, PageNumbers] = {}
    above = [_Level(-1, ())]
    captions: Counter[tuple[int, str]] = Counter()
    for page in sorted((p for p in pages if p.order >= 0), key=lambda p: p.order):
        while above[-1].depth >= page.depth:
            above.pop()
        if not page.numbered:
            above.append(_Unnumbered(page.depth, above[-1]))
            continue
        own = _Level(page.depth, above[-1].next())
        above.append(own)
        headings = list(_number_headings(page, own))
        found[page.path] = PageNumbers(_told(own.parts), headings, list(_number_captions(page, own.parts[0], captions)))
    return found


class _Unnumbered(_Level):
    """A guide without a number: what is below it counts on as if it stood beside."""

    def __init__(self, depth: int, beside: _Level) -> None:
        super().__init__(depth, beside.parts)
        self._beside = beside

    def next(self) -> tuple[int, ...]:
        return self._beside.next()


def _number_headings(page: PageEntry, own: _Level) -> Iterator[str]:
    has_title = bool(page.headings) and page.headings[0].title == page.title
    inner = page.headings[1:] if has_title else page.headings
    top = min((h.level for h in inner), default=1)
    if has_title:
        yield ""
    counts: list[int] = []
    for heading in inner:
        depth = heading.level - top
        if depth == 0:
            counts = [own.next()[-1]]
        else:
            counts = [*counts[: depth + 1], *[0] * (depth + 1 - len(counts))]
            counts[depth] += 1
        parts = (*own.parts, *counts)
        yield _told(parts) if len(parts) <= MAX_PARTS else ""


def _number_captions(page: PageEntry, chapter: int, counts: Counter[tuple[int, str]]) -> Iterator[str]:
    for caption in page.captions:
        counts[chapter, caption.kind] += 1
        yield f"{chapter}.{counts[chapter, caption.kind]}"


def _told(parts: tuple[int, ...]) -> str:
    return ".".join(map(str, parts))


def call_places(pages: Iterable[PageEntry], numbers: dict[str, PageNumbers]) -> dict[tuple[str, str], str]:
    """(path, anchor) of each place that texts refer to by label, to what it is called: ``Figure 2.1``, a part's number
    or its title, a term."""
    called: dict[tuple[str, str], str] = {}
    for page in pages:
        if not page.labels:
            continue
        own = numbers.get(page.path, NO_NUMBERS)
        known = {h.anchor: _heading_called(h, page, n, own.number) for h, n in paired(page.headings, own.headings)}
        for caption, number in paired(page.captions, own.captions):
            known[caption.anchor] = called_caption(caption, number) or caption.title
        for label in page.labels:
            called[page.path, label.anchor] = label.title or known.get(label.of) or page.title
    return called


def _heading_called(heading: Heading, page: PageEntry, number: str, chapter: str) -> str:
    if number:
        return f"Section {number}"
    return f"Chapter {chapter}" if chapter and heading.title == page.title else heading.title


def called_caption(caption: Caption, number: str) -> str:
    """What stands before it; empty for one without a number."""
    return f"{caption.kind.capitalize()} {number}" if number else ""


def paired(things: list[T], numbers: list[str]) -> Iterator[tuple[T, str]]:
    """Headings or captions with their numbers, empty for those that have none."""
    return zip(things, [*numbers, *[""] * (len(things) - len(numbers))], strict=True)
