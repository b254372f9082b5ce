"""The parts of a page that have a heading with a place. Source: HTML Living Standard, section 4.3.11."""

from __future__ import annotations

from collections.abc import Iterator

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.page import Section
from zarbek.core.sources.htmltrees.layout import INLINE, cut_frame, frame_digests, neighbours_of, root_of
from zarbek.core.sources.htmltrees.page_reader import HEADINGS, anchor_of, heading_of, parse_page, said

_WITHIN = INLINE | {"span", "font"}


def own_content(document: LexborHTMLParser, facts: TreeFacts) -> tuple[LexborNode | None, list[str]]:
    """The element that holds what is a page's own, the frame cut off; the places that went with that."""
    root = root_of(document, facts.body)
    if root is None:
        return None, []
    return root, cut_frame(root, frame_digests(facts.frame), neighbours_of(document))


def own_words(document: LexborHTMLParser, facts: TreeFacts) -> str:
    """What a page says itself. The document is cut for it."""
    root, _ = own_content(document, facts)
    return root.text(separator=" ") if root is not None else ""


def sections_of(text: str, facts: TreeFacts) -> Iterator[Section]:
    """What a page says, in order; the first is what stands before any heading that has a place."""
    root, _ = own_content(parse_page(text), facts)
    anchor, heading, title, words = "", "", "", list[str]()
    for node in root.traverse(include_text=True) if root is not None else ():
        if node.tag in HEADINGS and (place := anchor_of(node)):
            yield _section(anchor, heading, title, words)
            anchor, heading, title, words = place, said(node), heading_of(node), []
        elif node.is_text_node:
            words.append(node.text_content or "")
        elif node.tag not in _WITHIN:
            words.append(" ")
    yield _section(anchor, heading, title, words)


def _section(anchor: str, heading: str, title: str, words: list[str]) -> Section:
    return Section(anchor, title, " ".join("".join(words).split()).removeprefix(heading).lstrip())
