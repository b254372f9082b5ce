"""The pages of trees of HTML, read beside one another and kept on disk until they are bundled."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import IO

from zarbek.core.errors import ProjectFileError
from zarbek.core.gathering.tree_outline import learn, outline_of, page_above
from zarbek.core.gathering.tree_page_reading import MAX_READ_S, Context, PageTask, TreeContext, lost, read_task
from zarbek.core.gathering.tree_styles import follow_styles
from zarbek.core.material.bundle_file import MAX_ASSET_BYTES
from zarbek.core.material.folder import Folder, list_files, list_root
from zarbek.core.material.worker_pool import WorkerPool
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.model.finding import Finding
from zarbek.core.model.limits import MAX_FILE
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.addresses import Site
from zarbek.core.sources.htmltrees.contents import order_files
from zarbek.core.sources.htmltrees.discovery import Tree, TreeFiles, first_page, is_page, locate_trees
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.manifests.reading import ROOT_MANIFESTS
from zarbek.core.sources.project_file import ProjectFile

#: Of the files that pages show and lead to: how many a bundle holds, and how large they are together.
MAX_FILES, MAX_FILES_BYTES = 15_000, 256 * 2**20
#: Sources among pages: fewer than one to so many pages are examples.
_MOST_EXAMPLES, _PAGES_AN_EXAMPLE = 500, 20
#: Languages of what runs in pages.
_OF_PAGES = frozenset({"javascript", "typescript"})


@dataclass(slots=True)
class TreePages:
    """What the trees of a source gave, besides their pages. files: what those show and lead to besides pages, below the
    source's root. symbols: what the pages document, in the order of these."""

    facts: list[TreeFacts] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    files: set[str] = field(default_factory=set)
    symbols: list[Symbol] = field(default_factory=list)


def find_trees(folder: Folder, project: ProjectFile, sources: list[SourceFile]) -> list[Tree]:
    """The trees that a project file names; where it names none, the whole folder, if it is a tree: examples among its
    pages make no sources of it. Raises ProjectFileError: a folder without pages."""
    others = sum(source.language not in _OF_PAGES for source in sources)
    if not project.trees and (others > _MOST_EXAMPLES or _has_manifest(folder)):
        return []
    names = [name.strip("/") for name in project.trees] or ["."]
    patterns = ["/**" if name in ("", ".") else f"/{name}/**" for name in names]
    files = list_files(folder, include=patterns, exclude=[*project.exclude, ".*"], has_links=True)
    has_sources = others * _PAGES_AN_EXAMPLE > sum(map(is_page, files))
    trees = locate_trees((f for f in files if len(f) <= MAX_FILE), project.trees, has_sources=has_sources)
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
    context = Context(str(folder.root), [], frozenset(kept))
    tasks: list[PageTask] = []
    for tree in trees:
        tasks += _tasks_of(tree, folder, context, found, first_order + len(tasks))
    reached = {facts.first for facts in found.facts}
    pool = WorkerPool(partial(read_task, context), lambda _: MAX_READ_S, lost)
    for done, reading in enumerate(pool.run(tasks, is_guarded=is_guarded), start=1):
        if reading.page:
            spool.write(reading.page)
            spool.write(b"\n")
        found.findings += reading.findings
        found.symbols += reading.symbols
        reached.update(filter(is_page, reading.leads))
        found.files |= kept.intersection(f for f in reading.leads if not is_page(f))
        progress(done, len(tasks))
    for tree, known in zip(trees, context.trees, strict=True):
        styled = follow_styles(folder, known.site, found.files.intersection(tree.others), kept)
        found.files |= styled.files
        found.findings += styled.findings
    found.findings += [_unreached(task.file) for task in tasks if task.file not in reached]
    return found


def _tasks_of(tree: Tree, folder: Folder, context: Context, found: TreePages, first_order: int) -> list[PageTask]:
    """The pages of a tree in its own order; what is known of it as a whole goes to the context and the facts."""
    files = TreeFiles([*tree.pages, *tree.others])
    address = tree.hints.address.rstrip("/") + "/" if tree.hints.address else ""
    site, learnt, first = Site(address, tree.folder, files.find), learn(folder, tree), first_page(tree)
    above = partial(page_above, folder, files, site) if learnt.has_breadcrumbs else lambda _: ""
    placed = order_files(tree.pages, first, *outline_of(folder, tree, files, site, first), above)
    frame = sorted(digest.hex() for digest in learnt.common)
    facts = TreeFacts(tree.folder, address, first, frame, tree.hints.body, learnt.language)
    context.trees.append(TreeContext(site, learnt.frame, facts, tree.hints))
    found.facts.append(facts)
    number = len(context.trees) - 1
    return [PageTask(e.file, number, first_order + n, e.depth) for n, e in enumerate(placed)]


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


def _unreached(file: str) -> Finding:
    return Finding("text/unreached-page", "note", file, "No other page leads to this one.", subject_kind="page",
                   file=file, line=1)  # fmt: skip
