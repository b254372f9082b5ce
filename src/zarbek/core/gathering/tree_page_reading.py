"""One page of a tree, as a process of its own reads it."""

from __future__ import annotations

from pathlib import Path
from typing import NamedTuple
from urllib.parse import urljoin

import msgspec
from msgspec.structs import replace

from zarbek.core.errors import TakesTooLong, UnreadableText
from zarbek.core.linking.index import digest_of_words
from zarbek.core.material.bundle_file import MAX_PAGE_LINE_BYTES
from zarbek.core.material.folder import Folder
from zarbek.core.material.worker_pool import time_limit
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_LABEL, MAX_TITLE
from zarbek.core.model.mention import BESIDE, Mention
from zarbek.core.model.page import Documented, Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.addresses import Site
from zarbek.core.sources.htmltrees.discovery import TreeHints
from zarbek.core.sources.htmltrees.encoding import decode_page
from zarbek.core.sources.htmltrees.page_reader import TreePage, read_page, said
from zarbek.core.sources.htmltrees.page_symbols import symbols_of
from zarbek.core.sources.htmltrees.sections import own_words
from zarbek.core.sources.htmltrees.titles import TitleFrame
from zarbek.core.sources.source_text import FALLS

MAX_PAGE_BYTES = 16 * 2**20
MAX_READ_S = 30
#: Elements that a page leads to.
_MAX_DOCUMENTED = 2_000
_ENCODE = msgspec.json.Encoder().encode


class PageTask(NamedTuple):
    """A page to be read. tree: its number. order, depth: its place in the contents."""

    file: str
    tree: int
    order: int
    depth: int


class TreeContext(NamedTuple):
    """What all pages of a tree need."""

    site: Site
    frame: TitleFrame
    facts: TreeFacts
    hints: TreeHints


class Context(NamedTuple):
    """What all pages of a source need. kept: files that the bundle may hold."""

    root: str
    trees: list[TreeContext]
    kept: frozenset[str]


class PageReading(msgspec.Struct):
    """A page as the bundle has it, empty where it could not be read; the files that it leads to and shows; what it
    documents."""

    page: bytes
    findings: list[Finding] = []
    leads: list[str] = []
    symbols: list[Symbol] = []


def read_task(context: Context, task: PageTask) -> PageReading:
    """One page; what cannot be read is a finding."""
    folder, tree = Folder(Path(context.root)), context.trees[task.tree]
    try:
        data = _bytes_of(folder, task.file)
        with time_limit(MAX_READ_S, TakesTooLong(f"reading it takes longer than {MAX_READ_S} s")):
            text = decode_page(data)
            read = read_page(text, task.file, tree.site)
            title = _title_of(read, tree)
            symbols = symbols_of(read.document, text, task.file, tree.facts.language, title, tree.hints, read.data)
            said_here = digest_of_words(own_words(read.document, tree.facts))
            mentions = [_led(m, folder, tree.site, task.file, context.kept) for m in read.mentions]
    except (TakesTooLong, UnreadableText) as error:
        return _left_out(task, str(error))
    except FALLS as error:
        return _left_out(task, f"it cannot be read: {type(error).__name__} {error}".strip())
    title = title or next((h.title for h in read.headings if h.title), "") or task.file
    page = Page(
        path=task.file, title=title[:MAX_TITLE], text=text, file=task.file, order=task.order, depth=task.depth,
        headings=read.headings, mentions=mentions, anchors=read.anchors, form="html",
        language=read.language[:MAX_LABEL], said=said_here,
        moved_to=read.moved_to.name.partition("#")[0] if read.moved_to is not None else "",
        documents=[Documented(s.path, s.place.anchor) for s in symbols[:_MAX_DOCUMENTED] if s.place is not None],
    )  # fmt: skip
    line = _ENCODE(page)
    if len(line) > MAX_PAGE_LINE_BYTES:
        return _left_out(task, f"it and its {len(mentions):,} links are larger than {MAX_PAGE_LINE_BYTES // 2**20} MiB")
    leads = {m.name.partition("#")[0] for m in mentions if m.origin in ("page", "asset")} - {task.file}
    if read.moved_to is not None:
        leads.add(task.file)  # It is there for those who have its address.
    return PageReading(line, _duplicates(task.file, read), sorted(leads), symbols)


def _bytes_of(folder: Folder, file: str) -> bytes:
    if folder.size(file) > MAX_PAGE_BYTES:
        raise UnreadableText(f"it is larger than {MAX_PAGE_BYTES // 2**20} MiB", 1)
    data = folder.read(file)
    if b"\0" in data[:1024] and not data.startswith((b"\xfe\xff", b"\xff\xfe")):
        raise UnreadableText("it is binary", 1)
    return data


def _title_of(read: TreePage, tree: TreeContext) -> str:
    chosen = read.document.css_first(tree.hints.title) if tree.hints.title else None
    if chosen is not None:
        return said(chosen)
    return read.data.headline or read.data.name or tree.frame.own_part(read.title)


def _led(mention: Mention, folder: Folder, site: Site, page: str, kept: frozenset[str]) -> Mention:
    """A mention with what is known of the file that it leads to, where that is no part of the release: it stands beside
    the tree, is too large, or is published where the tree is."""
    file = mention.name.partition("#")[0] if mention.origin in ("page", "asset") else ""
    if not file or file in kept:
        return mention
    if site.published and (file.startswith("../") or not file.startswith(site.folder)):
        address = urljoin(site.published + page.removeprefix(site.folder), mention.text)
        return replace(mention, name=address, origin="url")
    return replace(mention, role=BESIDE) if not file.endswith("/") and folder.has(file) else mention


def lost(task: PageTask, limit_s: float | None) -> PageReading:
    """What is said of a page whose reading ended the process that read it, or had to be ended."""
    dead = "reading it ended the process that read it"
    return _left_out(task, dead if limit_s is None else f"reading it takes longer than {limit_s:g} s")


def _left_out(task: PageTask, why: str) -> PageReading:
    finding = Finding("text/unreadable", "warning", task.file, f"The page was left out: {why}.", subject_kind="page",
                      file=task.file, line=1)  # fmt: skip
    return PageReading(b"", [finding])


def _duplicates(file: str, read: TreePage) -> list[Finding]:
    """Places that stand twice (HTML, section 3.2.6): a link to one leads to the first."""
    lines = dict(reversed(read.twice))
    told = "stands more than once: links lead to the first."
    return [
        Finding("text/duplicate-anchor", "note", file, f"The place {name!r} {told}",
                subject_kind="page", file=file, line=line, text=name)
        for name, line in lines.items() if len(name) <= MAX_TITLE
    ]  # fmt: skip
