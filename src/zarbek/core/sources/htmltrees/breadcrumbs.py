"""Where a page says that it stands: the pages above it. Source: HTML Living Standard, section 4.17.1; WAI-ARIA
Authoring Practices 1.2, Breadcrumb; schema.org, BreadcrumbList."""

from __future__ import annotations

import re
from collections.abc import Iterator

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.sources.htmltrees.addresses import Addresses
from zarbek.core.sources.htmltrees.contents import page_at
from zarbek.core.sources.htmltrees.discovery import TreeFiles

#: Elements that say of themselves that they are such a list.
_NAMED = "[aria-label*='breadcrumb' i],[itemtype$='schema.org/BreadcrumbList']"
#: Others that may be one, before the first heading.
_LINES = "nav,p,div,ul,ol,td"
#: What stands between its links, and nothing else.
_BETWEEN = re.compile(r"[\s>/\u00bb\u203a\u2192\u25b8\u25b6\u2799]*")
_SIGNS = re.compile(r"[>/\u00bb\u203a\u2192\u25b8\u25b6\u2799]")
#: A longer one is a list of something else; so many elements are looked at.
_MOST_LINKS, _MOST_LINES = 12, 40


def above(document: LexborHTMLParser, addresses: Addresses, files: TreeFiles, file: str) -> str:
    """The page just above one, by its breadcrumbs; empty where it shows none. file: the page itself."""
    for links in _trails(document):
        found = [target for link in links if (target := page_at(link, addresses, files)) and target != file]
        if found:
            return found[-1]
    return ""


def shows_any(document: LexborHTMLParser) -> bool:
    """Whether a page has breadcrumbs."""
    return any(_trails(document))


def _trails(document: LexborHTMLParser) -> Iterator[list[LexborNode]]:
    for node in document.css(_NAMED):
        yield node.css("a[href]")[:_MOST_LINKS]
    for node in document.css(f"h1,h2,{_LINES}")[:_MOST_LINES]:
        if node.tag in ("h1", "h2"):
            return
        links = node.css("a[href]")
        if 0 < len(links) <= _MOST_LINKS and _is_trail(node, links):
            yield links


def _is_trail(node: LexborNode, links: list[LexborNode]) -> bool:
    """Whether signs that point onwards stand between links, and no words but at the end: the page's own name."""
    before, text = "", node.text()
    for link in links:
        words = link.text()
        at = text.find(words)
        if at < 0 or not _BETWEEN.fullmatch(text[:at]):
            return False
        before, text = before + text[:at], text[at + len(words) :]
    return _SIGNS.search(before + text[: len(text) - len(text.lstrip()) + 1]) is not None
