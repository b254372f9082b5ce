"""The pages of trees of HTML, read beside one another and kept on disk until they are bundled."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from pathlib import Path
from typing import IO, NamedTuple

import msgspec
from selectolax.lexbor import LexborHTMLParser

from zarbek.core.errors import ProjectFileError, UnreadableText
from zarbek.core.gathering.tree_styles import follow_styles
from zarbek.core.material.bundle_file import MAX_ASSET_BYTES
from zarbek.core.material.folder import Folder, list_files, list_root
from zarbek.core.material.worker_pool import WorkerPool, time_limit
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_FILE, MAX_LABEL, MAX_TITLE
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.addresses import Site
from zarbek.core.sources.htmltrees.code_language import Sample, language_of_code
from zarbek.core.sources.htmltrees.contents import Entry, entries_of, follow, next_of, order_files
from zarbek.core.sources.htmltrees.discovery import Tree, TreeFiles, TreeHints, first_page, is_page, locate_trees
from zarbek.core.sources.htmltrees.encoding import decode_page
from zarbek.core.sources.htmltrees.layout import common_blocks
from zarbek.core.sources.htmltrees.page_reader import TreePage, addresses_of, parse_page, read_page, said
from zarbek.core.sources.htmltrees.page_symbols import symbols_of
from zarbek.core.sources.htmltrees.titles import TitleFrame, frame_of
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.manifests.reading import ROOT_MANIFESTS
from zarbek.core.sources.project_file import ProjectFile
from zarbek.core.sources.source_text import FALLS

MAX_PAGE_BYTES = 10 * 2**20
#: Of the files that pages show and lead to: how many a bundle holds, and how large they are together.
MAX_FILES, MAX_FILES_BYTES = 15_000, 256 * 2**20
#: Languages of what runs in pages.
_OF_PAGES = frozenset({"javascript", "typescript"})
MAX_READ_S = 30
#: Pages from which the frame of a tree is learnt.
_SAMPLE, _MAX_SAMPLE_BYTES = 60, 2**20
#: Where a page says which is next; frames that are looked into.
_HEAD_BYTES, _MAX_FRAMES = 16 * 2**10, 8


class _Task(NamedTuple):
    file: str
    tree: int
    order: int
    depth: int


class _Context(NamedTuple):
    """What all pages of a source need. kept: files that the bundle may hold."""

    root: str
    sites: list[Site]
    frames: list[TitleFrame]
    languages: list[str]
    hints: list[TreeHints]
    kept: frozenset[str]


class _Reading(msgspec.Struct):
    """A page as the bundle has it, empty where it could not be read; the files that it leads to and shows; what it
    documents."""

    page: bytes
    findings: list[Finding] = []
    leads: list[str] = []
    symbols: list[Symbol] = []


@dataclass(slots=True)
class TreePages:
    """What the trees of a source gave, besides their pages. files: what those show and lead to besides pages, below the
    source's root. symbols: what the pages document, in the order of these."""

    facts: list[TreeFacts] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    files: set[str] = field(default_factory=set)
    symbols: list[Symbol] = field(default_factory=list)


def find_trees(folder: Folder, project: ProjectFile, sources: list[SourceFile]) -> list[Tree]:
    """The trees that a project file names; where it names none, the whole folder, if it is a tree. Raises
    ProjectFileError: a folder without pages."""
    if not project.trees and (any(s.language not in _OF_PAGES for s in sources) or _has_manifest(folder)):
        return []
    names = [name.strip("/") for name in project.trees] or ["."]
    patterns = ["/**" if name in ("", ".") else f"/{name}/**" for name in names]
    files = list_files(folder, include=patterns, exclude=[*project.exclude, ".*"])
    trees = locate_trees((f for f in files if len(f) <= MAX_FILE), project.trees, has_sources=False)
    for tree in trees:
        if not tree.pages:
            raise ProjectFileError(f"trees.{tree.folder.strip('/') or '.'}", "no page of HTML is in such a folder")
    return trees


def _has_manifest(folder: Folder) -> bool:
    return any(name in ROOT_MANIFESTS for name in list_root(folder))


def read_trees(
    folder: Folder, trees: list[Tree], spool: IO[bytes], progress: Callable[[int, int], None], *, is_guarded: bool,
    first_order: int = 0,
) -> TreePages:  # fmt: skip
    """Read all pages of trees. spool: takes each page as a line of JSON. first_order: the place of the first page."""
    found = TreePages()
    kept = {page for tree in trees for page in tree.pages} | _fitting_files(folder, trees)
    context = _Context(str(folder.root), [], [], [], [tree.hints for tree in trees], frozenset(kept))
    tasks: list[_Task] = []
    for number, tree in enumerate(trees):
        files = TreeFiles([*tree.pages, *tree.others])
        address = tree.hints.address.rstrip("/") + "/" if tree.hints.address else ""
        site = Site(address, tree.folder, files.find)
        context.sites.append(site)
        learnt = _learn(folder, tree)
        context.frames.append(learnt.frame)
        context.languages.append(learnt.language)
        first = first_page(tree)
        placed = order_files(tree.pages, first, *_contents(folder, tree, files, site, first))
        tasks += [_Task(e.file, number, first_order + len(tasks) + n, e.depth) for n, e in enumerate(placed)]
        frame = sorted(digest.hex() for digest in learnt.common)
        found.facts.append(TreeFacts(tree.folder, address, first, frame, tree.hints.body, learnt.language))
    reached = {facts.first for facts in found.facts}
    pool = WorkerPool(partial(_read_task, context), lambda _: MAX_READ_S, _lost)
    for done, reading in enumerate(pool.run(tasks, is_guarded=is_guarded), start=1):
        if reading.page:
            spool.write(reading.page)
            spool.write(b"\n")
        found.findings += reading.findings
        found.symbols += reading.symbols
        reached.update(filter(is_page, reading.leads))
        found.files |= kept.intersection(f for f in reading.leads if not is_page(f))
        progress(done, len(tasks))
    for tree, site in zip(trees, context.sites, strict=True):
        styled = follow_styles(folder, site, found.files.intersection(tree.others), kept)
        found.files |= styled.files
        found.findings += styled.findings
    found.findings += [_unreached(task.file) for task in tasks if task.file not in reached]
    return found


def _fitting_files(folder: Folder, trees: list[Tree]) -> set[str]:
    """The files besides pages that a bundle can hold: not those that are too large, or beyond what it holds in all."""
    kept: set[str] = set()
    left = MAX_FILES_BYTES
    for file in (file for tree in trees for file in tree.others):
        size = folder.size(file)
        if size <= min(MAX_ASSET_BYTES, left) and len(kept) < MAX_FILES:
            kept.add(file)
            left -= size
    return kept


def _read_task(context: _Context, task: _Task) -> _Reading:
    try:
        folder = Folder(Path(context.root))
        if folder.size(task.file) > MAX_PAGE_BYTES:
            raise UnreadableText(f"it is larger than {MAX_PAGE_BYTES // 2**20} MiB", 1)
        data = folder.read(task.file)
        if b"\0" in data[:1024] and not data.startswith((b"\xfe\xff", b"\xff\xfe")):
            raise UnreadableText("it is binary", 1)
        with time_limit(MAX_READ_S, UnreadableText(f"reading it takes longer than {MAX_READ_S} s", 1)):
            text = decode_page(data)
            read = read_page(text, task.file, context.sites[task.tree])
            hints = context.hints[task.tree]
            chosen = read.document.css_first(hints.title) if hints.title else None
            own_title = said(chosen) if chosen is not None else context.frames[task.tree].own_part(read.title)
            symbols = symbols_of(read.document, text, task.file, context.languages[task.tree], own_title, hints)
            mentions = [m for m in read.mentions if not _is_held(folder, m, context.kept)]
    except UnreadableText as error:
        return _left_out(task, str(error))
    except FALLS as error:
        return _left_out(task, f"it cannot be read: {type(error).__name__} {error}".strip())
    title = own_title or next((h.title for h in read.headings if h.title), "") or task.file
    page = Page(
        path=task.file, title=title[:MAX_TITLE], text=text, file=task.file, order=task.order, depth=task.depth,
        headings=read.headings, mentions=mentions, anchors=read.anchors, form="html",
        language=read.language[:MAX_LABEL],
    )  # fmt: skip
    leads = {m.name.partition("#")[0] for m in mentions if m.origin in ("page", "asset")} - {task.file}
    if read.moved_to is not None:
        leads.add(task.file)  # It is there for those who have its address.
    return _Reading(_ENCODE(page), _duplicates(task.file, read), sorted(leads), symbols)


_ENCODE = msgspec.json.Encoder().encode


def _is_held(folder: Folder, mention: Mention, kept: frozenset[str]) -> bool:
    """Whether a mention leads to a file that is there and stays there: too large, or a link to what is not ours."""
    if mention.origin not in ("page", "asset"):
        return False
    file = mention.name.partition("#")[0]
    return file not in kept and not file.endswith("/") and folder.has(file)


class _Learnt(NamedTuple):
    """What pages from all over a tree tell of it. common: digests of the blocks of its frame."""

    common: frozenset[bytes]
    frame: TitleFrame
    language: str


def _learn(folder: Folder, tree: Tree) -> _Learnt:
    step = max(len(tree.pages) // _SAMPLE, 1)
    read = [(file, text) for file in tree.pages[::step][:_SAMPLE] if (text := _begin(folder, file))]
    documents = [(file, text, parse_page(text)) for file, text in read]
    titles = [said(title) if (title := d.css_first("title")) is not None else "" for _, _, d in documents]
    frame = frame_of(list(filter(None, titles)))
    common = common_blocks([document for _, _, document in documents])
    if tree.hints.language:
        return _Learnt(common, frame, tree.hints.language)
    samples = [
        Sample(d, text, file, frame.own_part(title)) for (file, text, d), title in zip(documents, titles, strict=True)
    ]
    return _Learnt(common, frame, language_of_code(samples))


def _begin(folder: Folder, file: str, most: int = _MAX_SAMPLE_BYTES) -> str:
    """The beginning of a page; empty where it cannot be read, which is said when it is read as a whole."""
    try:
        return decode_page(folder.read_begin(file, most))
    except (OSError, *FALLS):
        return ""


def _parsed(folder: Folder, file: str, most: int = _MAX_SAMPLE_BYTES) -> LexborHTMLParser | None:
    text = _begin(folder, file, most)
    return parse_page(text) if text else None


def _contents(folder: Folder, tree: Tree, files: TreeFiles, site: Site, first: str) -> tuple[list[Entry], list[str]]:
    """The table of contents that the first page, or what it has in frames, shows; the chain of pages that say which is
    next."""
    entries: list[Entry] = []
    for file in [first, *_framed(folder, first, site)]:
        if (document := _parsed(folder, file)) is not None:
            addresses = addresses_of(document, file, site)
            entries = max(entries, entries_of(document, addresses, files, tree.hints.navigation), key=len)

    def following(file: str) -> str:
        document = _parsed(folder, file, _HEAD_BYTES)
        return next_of(document, addresses_of(document, file, site), files) if document else ""

    return entries, follow(first, following)


def _framed(folder: Folder, first: str, site: Site) -> list[str]:
    document = _parsed(folder, first) if first else None
    if document is None:
        return []
    addresses = addresses_of(document, first, site)
    sources = [node.attributes.get("src") or "" for node in document.css("frame[src],iframe[src]")[:_MAX_FRAMES]]
    return [f for source in sources if (f := site.find(addresses.read(source).path)) and is_page(f)]


def _lost(task: _Task, limit_s: float | None) -> _Reading:
    dead = "reading it ended the process that read it"
    return _left_out(task, dead if limit_s is None else f"reading it takes longer than {limit_s:g} s")


def _left_out(task: _Task, why: str) -> _Reading:
    finding = Finding("text/unreadable", "warning", task.file, f"The page was left out: {why}.", subject_kind="page",
                      file=task.file, line=1)  # fmt: skip
    return _Reading(b"", [finding])


def _duplicates(file: str, read: TreePage) -> list[Finding]:
    """Places that stand twice (HTML, section 3.2.6): a link to one leads to the first."""
    lines = dict(reversed(read.twice))
    told = "stands more than once: links lead to the first."
    return [
        Finding("text/duplicate-anchor", "note", file, f"The place {name!r} {told}",
                subject_kind="page", file=file, line=line, text=name)
        for name, line in lines.items() if len(name) <= MAX_TITLE
    ]  # fmt: skip


def _unreached(file: str) -> Finding:
    return Finding("text/unreached-page", "note", file, "No other page leads to this one.", subject_kind="page",
                   file=file, line=1)  # fmt: skip
