"""Which folders of a source are trees of HTML, and what files those have."""

from __future__ import annotations

import posixpath
from collections.abc import Iterable, Mapping
from functools import cached_property

import msgspec

from zarbek.core.model.limits import Address, Label
from zarbek.core.sources.htmltrees.addresses import spellings

PAGE_ENDINGS = (".html", ".htm", ".xhtml", ".shtml")
#: What a server shows for a folder, in this order.
INDEXES = ("index.html", "index.htm", "index.xhtml", "index.shtml")
#: A folder with fewer pages is no tree unless the project file says so.
LEAST_PAGES = 3


class TreeHints(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a project file says of a tree. address: where it is published. title, body, navigation, symbol and kind:
    selectors of CSS for what pages have of these. language: of the code that it describes."""

    address: Address = ""
    language: Label = ""
    title: str = ""
    body: Label = ""
    navigation: str = ""
    symbol: str = ""
    kind: str = ""


NO_HINTS = TreeHints()


class Tree(msgspec.Struct, frozen=True):
    """folder: below the source's root, with a ``/`` at its end, or empty for the root itself. pages: its pages, sorted;
    others: its other files. Both are below the source's root."""

    folder: str
    pages: list[str]
    others: list[str]
    hints: TreeHints = TreeHints()


def is_page(file: str) -> bool:
    """Whether a file is a page by its name."""
    return file.lower().endswith(PAGE_ENDINGS)


def served_for(path: str) -> list[str]:
    """The files that a server looks for at a path, in this order."""
    return [path, *(posixpath.join(path, index) for index in INDEXES)]


def locate_trees(
    files: Iterable[str], said: Mapping[str, TreeHints], *, has_sources: bool
) -> list[Tree]:  # fmt: skip
    """The trees of a source, sorted by folder.

    files: all that the source has. said: folder to hints, from the project file. has_sources: whether anything of it is
    read as a source or guide: where nothing is, and many files are pages, all of it is a tree.
    """
    listed = sorted(files)
    if said:
        return [_tree(folder.strip("/"), listed, hints) for folder, hints in sorted(said.items())]
    if has_sources or sum(map(is_page, listed)) < LEAST_PAGES:
        return []
    return [_tree("", listed, TreeHints())]


def _tree(folder: str, files: list[str], hints: TreeHints) -> Tree:
    prefix = f"{folder}/" if folder not in ("", ".") else ""
    own = [file for file in files if file.startswith(prefix)]
    return Tree(prefix, [f for f in own if is_page(f)], [f for f in own if not is_page(f)], hints)


class TreeFiles:
    """Finds the file that an address means, as a server of the tree would."""

    def __init__(self, files: Iterable[str]) -> None:
        self._files = frozenset(files)

    @cached_property
    def _folders(self) -> frozenset[str]:
        found: set[str] = set()
        for file in self._files:
            while (file := posixpath.dirname(file)) and file not in found:
                found.add(file)
        return frozenset(found)

    def find(self, path: str) -> str:
        """The file that a path means, or empty. path: below the source's root, as it is written in an address."""
        if path in self._files:
            return path
        for spelt in spellings(path):
            if spelt in self._files:
                return spelt
            folder = spelt.strip("/")
            if folder in self._folders or not folder:
                for index in INDEXES:
                    if (file := posixpath.join(folder, index)) in self._files:
                        return file
        return ""


def first_page(tree: Tree) -> str:
    """The page that a reader of a tree comes to first: the index of its outermost folder, else its first page."""
    by_depth = sorted(tree.pages, key=lambda f: (f.count("/"), _index_order(f), f))
    return by_depth[0] if by_depth else ""


def _index_order(file: str) -> int:
    name = posixpath.basename(file).lower()
    return INDEXES.index(name) if name in INDEXES else len(INDEXES)
