"""The parts of a guide, by its headings. Source: CommonMark 0.31, sections 4.2 and 4.3."""

from __future__ import annotations

from collections.abc import Iterator

from zarbek.core.model.page import Page, Section
from zarbek.core.sources.guides.dialect import commonmark


def sections_of(page: Page) -> Iterator[Section]:
    """What a guide says, in order; the first is what stands before any heading."""
    lines = page.text.split("\n")
    places = [t.map for t in commonmark().parse(page.text) if t.type == "heading_open" and t.map]
    begun = 0
    anchor, title = "", ""
    for (start, end), heading in zip(places, page.headings, strict=False):  # Those of a bundle may be anything.
        yield Section(anchor, title, "\n".join(lines[begun:start]))
        begun, anchor, title = end, heading.anchor, heading.title
    yield Section(anchor, title, "\n".join(lines[begun:]))
