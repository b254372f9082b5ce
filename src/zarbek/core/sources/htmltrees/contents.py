"""A tree's own table of contents: which of its pages comes after which, and below which."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import NamedTuple

from selectolax.lexbor import LexborHTMLParser, LexborNode

from zarbek.core.sources.htmltrees.addresses import Addresses
from zarbek.core.sources.htmltrees.discovery import TreeFiles, is_page

#: What may hold a table of contents.
_HOLDERS = "nav,[role=navigation],ul,ol,dl,table,body"
_NESTING = frozenset({"ul", "ol", "dl", "menu", "dir"})
_MAX_NESTING = 20
#: A chain of pages is followed so far.
_MOST = 50_000


class Entry(NamedTuple):
    """A page in a table of contents. depth: from 0."""

    file: str
    depth: int


def entries_of(document: LexborHTMLParser, addresses: Addresses, files: TreeFiles, selector: str = "") -> list[Entry]:
    """The table of contents that a page shows, each page once: the innermost of its lists that leads to the most pages.

    selector: of CSS, for the element that holds it, from the project file, or empty.
    """
    best: list[Entry] = []
    for node in document.css(selector) if selector else document.css(_HOLDERS):
        found = _entries(node, addresses, files)
        if len(found) >= len(best):
            best = found
    return best


def _entries(holder: LexborNode, addresses: Addresses, files: TreeFiles) -> list[Entry]:
    found: dict[str, int] = {}
    for link in holder.css("a[href]"):
        file = page_at(link, addresses, files)
        if file and file not in found:
            found[file] = _depth(link, holder)
    least = min(found.values(), default=0)
    return [Entry(file, depth - least) for file, depth in found.items()]


def page_at(link: LexborNode, addresses: Addresses, files: TreeFiles) -> str:
    """The page of the tree that a link leads to, or empty."""
    meant = addresses.read(link.attributes.get("href") or "")
    file = files.find(meant.path) if meant.kind == "file" else ""
    return file if is_page(file) else ""


def _depth(link: LexborNode, holder: LexborNode) -> int:
    depth, node = 0, link.parent
    while node is not None and node.mem_id != holder.mem_id and depth < _MAX_NESTING:
        depth += node.tag in _NESTING
        node = node.parent
    return depth


def next_of(document: LexborHTMLParser, addresses: Addresses, files: TreeFiles) -> str:
    """The page that comes after one by its own word (section 4.6.7.13), or empty."""
    for node in document.css("link[rel][href],a[rel][href]"):
        if "next" in (node.attributes.get("rel") or "").lower().split():
            meant = addresses.read(node.attributes.get("href") or "")
            if meant.kind == "file":
                return files.find(meant.path)
    return ""


def follow(first: str, following: Callable[[str], str]) -> list[str]:
    """The pages of a chain, from its first on, each once."""
    chain: dict[str, None] = {}
    while first and first not in chain and len(chain) < _MOST:
        chain[first] = None
        first = following(first)
    return list(chain)


def order_files(
    pages: Sequence[str], first: str, entries: Sequence[Entry], chain: Sequence[str], above: Callable[[str], str]
) -> list[Entry]:  # fmt: skip
    """Every page of a tree in the order in which it is to be read: the first one, those of the table of contents, or of
    the chain from the first page on where that is longer, then the others by folder, each below the page that it says
    to be above it. above: that page, or empty; asked of the others."""
    left = dict.fromkeys(sorted(pages, key=lambda file: (file.rpartition("/")[0], file)))
    placed = []
    for entry in [Entry(first, 0), *(_nested(chain, entries) if len(chain) > len(entries) else entries)]:
        if entry.file in left:
            del left[entry.file]
            placed.append(entry)
    below: dict[str, list[str]] = {}
    for file in left:
        below.setdefault(above(file), []).append(file)
    others = [Entry(file, 0) for file in below.pop(first, ())]  # The first page stands beside those that it leads to.
    others += [Entry(file, min(file.count("/"), _MAX_NESTING)) for file in below.pop("", ())]
    ordered = list(_with_others([*placed, *others], below))
    known = {entry.file for entry in ordered}  # What only says to be below itself, or what lies below it, is left.
    return ordered + [Entry(file, min(file.count("/"), _MAX_NESTING)) for file in left if file not in known]


def _with_others(placed: Sequence[Entry], below: dict[str, list[str]]) -> Iterator[Entry]:
    """Entries with what is below each, after what is below it already. below: page to others; what is used is gone."""
    held: list[Entry] = []
    for entry in placed:
        while held and held[-1].depth >= entry.depth:
            yield from _below(held.pop(), below)
        held.append(entry)
        yield entry
    while held:
        yield from _below(held.pop(), below)


def _below(entry: Entry, below: dict[str, list[str]]) -> Iterator[Entry]:
    left = [(file, entry.depth + 1) for file in reversed(below.pop(entry.file, ()))]
    while left:
        file, depth = left.pop()
        yield Entry(file, min(depth, _MAX_NESTING))
        left += [(inner, depth + 1) for inner in reversed(below.pop(file, ()))]


def _nested(chain: Sequence[str], entries: Sequence[Entry]) -> list[Entry]:
    """A chain with the depths of a table of contents: what that leaves out stands below what it has before it."""
    known = {entry.file: entry.depth for entry in entries}
    found, above = [], -1
    for file in chain:
        above = known.get(file, above)
        found.append(Entry(file, known.get(file, above + 1)))
    return found
