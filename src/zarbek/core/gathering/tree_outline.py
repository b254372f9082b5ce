"""What a tree is as a whole: the frame around its pages, its language, its table of contents."""

from __future__ import annotations

from collections.abc import Iterator
from hashlib import sha256
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser

from zarbek.core.errors import TakesTooLong
from zarbek.core.material.folder import Folder
from zarbek.core.material.worker_pool import time_limit
from zarbek.core.sources.htmltrees import breadcrumbs
from zarbek.core.sources.htmltrees.addresses import Site
from zarbek.core.sources.htmltrees.code_language import Sample, language_of_code
from zarbek.core.sources.htmltrees.contents import Entry, entries_of, follow, next_of
from zarbek.core.sources.htmltrees.discovery import Tree, TreeFiles, is_page
from zarbek.core.sources.htmltrees.encoding import decode_page
from zarbek.core.sources.htmltrees.layout import common_blocks
from zarbek.core.sources.htmltrees.page_reader import addresses_of, parse_page, said
from zarbek.core.sources.htmltrees.titles import TitleFrame, frame_of
from zarbek.core.sources.source_text import FALLS

#: Pages from which the frame of a tree is learnt.
_SAMPLE, _MAX_SAMPLE_BYTES = 60, 2**20
#: Learning what pages declare takes seconds where nobody has made them to take longer.
_MAX_LEARN_S = 60
#: Where a page says which is next; frames that are looked into.
_HEAD_BYTES, _MAX_FRAMES = 16 * 2**10, 8


class Learnt(NamedTuple):
    """What pages from all over a tree tell of it. common: digests of the blocks of its frame.
    has_breadcrumbs: whether its pages say which page is above them."""

    common: frozenset[bytes]
    frame: TitleFrame
    language: str
    has_breadcrumbs: bool = False


def learn(folder: Folder, tree: Tree) -> Learnt:
    """Look at pages from all over a tree."""
    read = [(file, text) for file in _sample(tree.pages) if (text := _begin(folder, file))]
    documents = [(file, text, parse_page(text)) for file, text in read]
    titles = [said(title) if (title := d.css_first("title")) is not None else "" for _, _, d in documents]
    frame = frame_of(list(filter(None, titles)))
    common = common_blocks([document for _, _, document in documents])
    has_breadcrumbs = 2 * sum(breadcrumbs.shows_any(document) for _, _, document in documents) > len(documents)
    if tree.hints.language:
        return Learnt(common, frame, tree.hints.language, has_breadcrumbs)
    samples = [
        Sample(d, text, file, frame.own_part(title)) for (file, text, d), title in zip(documents, titles, strict=True)
    ]
    try:
        with time_limit(_MAX_LEARN_S, TakesTooLong("learning the language of the tree takes too long")):
            language = language_of_code(samples)
    except TakesTooLong:  # Made to take long: its project can say which it is.
        language = ""
    return Learnt(common, frame, language, has_breadcrumbs)


def _sample(pages: list[str]) -> list[str]:
    """Some pages, always the same, that no order of names picks: every second one may be of another sort."""
    return sorted(pages, key=lambda page: sha256(page.encode(errors="replace")).digest())[:_SAMPLE]


def _begin(folder: Folder, file: str, most: int = _MAX_SAMPLE_BYTES) -> str:
    """The beginning of a page; empty where it cannot be read, which is said when it is read as a whole."""
    try:
        return decode_page(folder.read_begin(file, most))
    except (OSError, *FALLS):
        return ""


def _parsed(folder: Folder, file: str, most: int = _MAX_SAMPLE_BYTES) -> LexborHTMLParser | None:
    text = _begin(folder, file, most)
    return parse_page(text) if text else None


def outline_of(folder: Folder, tree: Tree, files: TreeFiles, site: Site, first: str) -> tuple[list[Entry], list[str]]:
    """The table of contents that the first page, or what it has in frames, shows; the chain of pages that say which is
    next."""
    entries: list[Entry] = []
    for file, document in _with_framed(folder, first, site):
        addresses = addresses_of(document, file, site)
        entries = max(entries, entries_of(document, addresses, files, tree.hints.navigation), key=len)

    def following(file: str) -> str:
        document = _parsed(folder, file, _HEAD_BYTES)
        return next_of(document, addresses_of(document, file, site), files) if document else ""

    return entries, follow(first, following)


def page_above(folder: Folder, files: TreeFiles, site: Site, file: str) -> str:
    """The page that one says to be above it; empty where it says nothing."""
    document = _parsed(folder, file, _HEAD_BYTES)
    return breadcrumbs.above(document, addresses_of(document, file, site), files, file) if document else ""


def _with_framed(folder: Folder, first: str, site: Site) -> Iterator[tuple[str, LexborHTMLParser]]:
    """The first page, and the pages that it has in frames."""
    document = _parsed(folder, first) if first else None
    if document is None:
        return
    yield first, document
    addresses = addresses_of(document, first, site)
    for node in document.css("frame[src],iframe[src]")[:_MAX_FRAMES]:
        file = site.find(addresses.read(node.attributes.get("src") or "").path)
        if file and is_page(file) and (framed := _parsed(folder, file)) is not None:
            yield file, framed
