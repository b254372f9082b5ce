"""Trees of HTML that Debian packages hold: what is counted in them, what of their elements is found, and how fast."""

from __future__ import annotations

import re
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterable, Iterator
from concurrent.futures import ProcessPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

from selectolax.lexbor import LexborHTMLParser

from bench.corpora import corpus
from bench.measures import Row
from bench.supervised import Supervised, children_of
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.index import ReleaseIndex, page_entry_of
from zarbek.core.linking.tree_links import tree_link
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.model.naming import key_of
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.discovery import is_page

#: Tree to the corpus of the same library's sources, or none, and the folder of all pages that is the tree.
TREES = {
    "java.base, pages": ("java.base", "api/java.base"), "eigen, pages": ("eigen", ""), "sfml, pages": ("sfml", ""),
    "glib, pages": ("glib", ""), "xerces, pages": ("", ""), "prolog, pages": ("", ""), "python, pages": ("stdlib", ""),
    "rust, pages": ("rust-std", ""),
}  # fmt: skip
#: The tree of most pages, read as a whole.
_LARGEST = "rust, all pages"
_CHANGED_SHARE = 0.01
_STORED = """
from django.db.models import Sum
from django.db.models.functions import Length
from zarbek.service.content.models import PageContent, SymbolContent
columns = ((PageContent, "document"), (SymbolContent, "document"))
print(sum(m.objects.aggregate(n=Sum(Length(c)))["n"] or 0 for m, c in columns))
"""
#: Kinds that languages have two words for: a field with and without code of its own, a structure and its name.
_SAME = ({"attribute", "property"}, {"struct", "type"}, {"class", "struct"}, {"macro", "function"})
_WORD = re.compile(r"~?\w+")
#: Where a page names what it documents, and not what it speaks of.
_NAMING = "h1,h2,h3,h4,h5,h6,dt,th,tr[id],td[id],li[id],td:has(a[id]):not(:has(td))"
#: Templates in templates in what a type stands in.
_NESTED = 4


@dataclass
class _Tree:
    """A gathered tree. named: words of each page where it names what it documents."""

    pages: int = 0
    anchors: int = 0
    links: int = 0
    places: int = 0
    targets: set[str] = field(default_factory=set)
    symbols: list[Symbol] = field(default_factory=list)
    named: dict[str, set[str]] = field(default_factory=dict)


def measure_trees() -> Iterator[Row]:
    """Each tree: counts, elements against those of the sources, the rate beside that of parsing alone."""
    for name, (sources, inside) in TREES.items():
        root = _root(name, inside)
        with tempfile.TemporaryDirectory() as folder:
            out = Path(folder, "tree.bundle")
            began = time.perf_counter()
            gather(root, out, GatherOptions(slug="tree", version="1", use_cache=False))
            took = time.perf_counter() - began
            tree = _read(out)
        yield (f"{name}: pages, places, links", f"{tree.pages:,}, {tree.anchors:,}, {tree.links:,}", "")
        yield (f"{name}: dangling", f"{len(tree.targets):,} targets, {tree.places:,} places", "")
        alone = _parsing(root / inside)
        yield (f"{name}: time beside parsing alone, on both cores", f"{took / alone:.1f}", f"{took:.1f} s")
        if sources:
            yield from _beside(name, tree, _declared(sources))
    yield from _largest()
    yield from _stored_again("sfml, pages")


def _root(name: str, inside: str) -> Path:
    """The folder to be gathered. inside: the tree in it, which a project file says then."""
    root = corpus(name)
    (root / "zarbek.toml").unlink(missing_ok=True)
    if inside:
        (root / "zarbek.toml").write_text(f'[trees."{inside}"]\n')
    return root


def _largest() -> Iterator[Row]:
    """Time and memory of the whole of a large tree, in processes of its own."""
    root = _root(_LARGEST, "")
    with tempfile.TemporaryDirectory() as folder:
        command = [str(Path(sys.executable).with_name("zarbek")), "gather", str(root), "--project", "tree"]
        process = subprocess.Popen(
            [*command, "--version", "1", "--no-cache", "--out", f"{folder}/b"], stdout=subprocess.DEVNULL
        )
        began, peak = time.perf_counter(), 0
        while process.poll() is None:
            peak = max(peak, sum(map(_share_kib, (process.pid, *children_of(process.pid)))))
            time.sleep(0.5)
        took = time.perf_counter() - began
    pages = [path for path in root.rglob("*") if is_page(path.name)]
    size = sum(path.stat().st_size for path in pages)
    told = f"{len(pages):,} pages, {size / 1e6:,.0f} MB, {took:.0f} s"
    yield (f"{_LARGEST}: memory of all its processes at its highest", f"{peak / 1024:,.0f} MiB", told)


def _share_kib(process: int) -> int:
    """What memory a process has, its part of what is shared; 0 once it has ended."""
    with suppress(OSError):
        lines = Path(f"/proc/{process}/smaps_rollup").read_text().splitlines()
        return next((int(line.split()[1]) for line in lines if line.startswith("Pss:")), 0)
    return 0


def _stored_again(name: str) -> Iterator[Row]:
    """What a release stores of which every hundredth page says something else than in the one before."""
    with Supervised() as service, tempfile.TemporaryDirectory() as place:
        tree = Path(place, "tree")
        shutil.copytree(corpus(name), tree)
        pages = sorted(path for path in tree.rglob("*") if is_page(path.name))
        stored = [_publish(service, tree, "1.0")]
        for page in pages[:: round(1 / _CHANGED_SHARE)]:
            page.write_text(page.read_text(errors="replace").replace("<p>", "<p>Once more: ", 1), errors="replace")
        stored.append(_publish(service, tree, "1.1") - stored[0])
    share = stored[1] / stored[0]
    yield (
        f"{name}: stored by a release of which 1 % of the pages changed",
        f"{100 * share:.2f} %",
        f"of {stored[0] / 1e6:.1f} MB",
    )


def _publish(service: Supervised, tree: Path, version: str) -> int:
    """Publish a tree; bytes of pages and elements that the portal holds then."""
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder, "b.bundle")
        gather(tree, out, GatherOptions(slug="tree", version=version, use_cache=False))
        for _ in service.client.watch(service.client.publish(out).id):
            pass
    return int(service.in_service(_STORED))


def _read(bundle: Path) -> _Tree:
    tree = _Tree()
    with BundleReader(bundle) as read:
        tree.symbols = [symbol for symbol in read.symbols() if symbol.place is not None]
        pages = list(read.pages())
        index = ReleaseIndex("tree", "1", symbols=(), pages=map(page_entry_of, pages), assets=read.asset_names())
    documenting = {symbol.file for symbol in tree.symbols}
    for page in pages:
        _count(tree, page, index)
        if page.file in documenting:
            nodes = LexborHTMLParser(page.text).css(_NAMING)
            tree.named[page.file] = {word for node in nodes for word in _WORD.findall(node.text(separator=" "))}
            tree.named[page.file].update(page.anchors)
    return tree


def _count(tree: _Tree, page: Page, index: ReleaseIndex) -> None:
    tree.pages += 1
    tree.anchors += len(page.anchors)
    for mention in page.mentions:
        if mention.origin == "page" and mention.field in ("a", "area"):
            tree.links += 1
            if tree_link(index, mention).outcome == "dangling":
                tree.places += 1
                tree.targets.add(mention.name)


def _declared(sources: str) -> dict[str, list[Symbol]]:
    """What readers of the sources see, by the keys of all its names."""
    found: dict[str, list[Symbol]] = {}
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder, "sources.bundle")
        gather(corpus(sources), out, GatherOptions(slug="sources", version="1"))
        with BundleReader(out) as read:
            others: dict[str, list[str]] = {}
            for alias in read.aliases():
                others.setdefault(alias.path, []).append(alias.name)
            for symbol in read.symbols():
                for path in _names(symbol.path, others):
                    found.setdefault(key_of(path), []).append(symbol)
    return found


def _names(path: str, others: dict[str, list[str]]) -> Iterator[str]:
    """All names of an element. others: of what it stands in, and its own."""
    yield path
    for end in [at.start() for at in re.finditer(r"::|\.|$", path)]:
        yield from (name + path[end:] for name in others.get(path[:end], ()))


def _beside(name: str, tree: _Tree, declared: dict[str, list[Symbol]]) -> Iterable[Row]:
    found = {key_of(symbol.path): symbol for symbol in tree.symbols}
    right = [(symbol, declared[key]) for key, symbol in found.items() if key in declared]
    kinds = sum(any(_alike(symbol.kind, other.kind) for other in others) for symbol, others in right)
    signatures = sum(any(_form(one) == _form(other) for other in others) for one, others in right)
    said = [key for key, others in declared.items() if _is_said(key, others[0], found, tree)]
    yield (f"{name}: names that the sources have, too", _share(len(right), len(found)), f"of {len(found):,}")
    yield (
        f"{name}: names found that a page says",
        _share(sum(k in found for k in said), len(said)),
        f"of {len(said):,}",
    )
    yield (f"{name}: kinds", _share(kinds, len(right)), "")
    yield (f"{name}: signatures", _share(signatures, len(right)), "")


def _is_said(key: str, symbol: Symbol, found: dict[str, Symbol], tree: _Tree) -> bool:
    """Whether the page that documents what an element stands in says its name where it documents something: in C,
    where nothing else encloses it, any page; in Python as a whole name. Not what is for nobody else, nor what a type
    of Rust does for a trait, which the trait's page tells."""
    if key != key_of(symbol.path) or symbol.visibility not in ("public", "protected") or " for " in symbol.path:
        return False
    outer = found.get(key_of(symbol.parent))
    if outer is None:
        return symbol.language == "c" and any(symbol.name in named for named in tree.named.values())
    name = symbol.path if symbol.language == "python" else symbol.name
    return outer.place is not None and name in tree.named.get(outer.file, ())


def _alike(one: str, other: str) -> bool:
    return one == other or any({one, other} <= same for same in _SAME)


def _form(symbol: Symbol) -> list[tuple[list[tuple[str, str]], str]]:
    own = re.findall(r"\w+|$", symbol.parent.partition("<")[0])[-2:][0]

    def bare(text: str) -> str:
        """A type without annotations, spaces, ``typename`` and what it stands in; within a template its name means it
        with its parameters (ISO C++, [temp.local]), as ``Self`` does (The Rust Reference, Paths)."""
        text = re.sub(r"@\w+(?:\([^)]*\))?|\btypename\b|\u200b", "", text)
        text = re.sub(r"\s*([^\w\s]|::)\s*", r"\1", text)
        for _ in range(_NESTED):
            text = re.sub(rf"\b{own}<[^<>]*>(?!::)|\bSelf\b", own, text) if own else text
            text = re.sub(r"[A-Za-z]\w*(?:<[^<>]*>)?(?:\.|::)(?=\w)", "", text)
        return re.sub(r"\s", "", text)

    return [([(p.name, bare(p.type)) for p in s.parameters], bare(s.returns)) for s in symbol.signatures]


def _share(part: int, whole: int) -> str:
    return f"{100 * part / max(whole, 1):.2f} %"


def _parsing(folder: Path) -> float:
    """Seconds that parsing the same pages takes on both cores, and nothing else."""
    pages = [path for path in sorted(folder.rglob("*")) if path.is_file() and is_page(path.name)]
    began = time.perf_counter()
    with ProcessPoolExecutor(2) as pool:
        sum(pool.map(_parse, pages, chunksize=50))
    return time.perf_counter() - began


def _parse(page: Path) -> bool:
    return LexborHTMLParser(page.read_bytes()).root is not None
