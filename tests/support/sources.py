"""Small sources on disk, and what they gather to."""

from __future__ import annotations

import tempfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from pathlib import Path
from textwrap import dedent
from typing import Any

from tests.support.portals import MemoryPortal
from zarbek.core.gathering.gather import Gathered, GatherOptions, gather
from zarbek.core.linking.index import ReleaseIndex, entry_of, page_entry_of
from zarbek.core.linking.link import Link
from zarbek.core.linking.linker import LinkedText, Linker
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.languages.python.reader import ModuleReading, read_module
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import language_of, read_source


def read(source: str, module: str = "m", *, is_package: bool = False) -> ModuleReading:
    return read_module(dedent(source), file=f"{module}.py", module=module, is_package=is_package)


def symbols_of(source: str, module: str = "m") -> dict[str, Symbol]:
    return {s.path: s for s in read(source, module).symbols}


def write_files(folder: Path, files: dict[str, str]) -> Path:
    for name, text in files.items():
        path = folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(dedent(text))
    return folder


def gather_files(files: dict[str, str], **options: Any) -> tuple[Gathered, ReleaseIndex, list[Symbol]]:
    """Gather files from a folder that is gone afterwards; the bundle has been read whole."""
    with tempfile.TemporaryDirectory() as name:
        folder = write_files(Path(name, "source"), files)
        gathered = gather(folder, Path(name, "b.bundle"), GatherOptions(use_cache=False, **options))
        with BundleReader(gathered.path) as bundle:
            symbols = list(bundle.symbols())
            return gathered, index_of(bundle, symbols), symbols


def index_of(bundle: BundleReader, symbols: Iterable[Symbol]) -> ReleaseIndex:
    """What linking needs of a gathered release, of which the symbols have been read already."""
    manifest = bundle.manifest
    return ReleaseIndex(
        manifest.project, manifest.version, symbols=map(entry_of, symbols), aliases=bundle.aliases(),
        scopes=bundle.scopes(), pages=map(page_entry_of, bundle.pages()), assets=bundle.asset_names(),
        manifest=manifest,
    )  # fmt: skip


@contextmanager
def gathered_bundle(files: dict[str, str], **options: Any) -> Iterator[BundleReader]:
    """The bundle of some files, open."""
    with tempfile.TemporaryDirectory() as name:
        folder = write_files(Path(name, "source"), files)
        gathered = gather(folder, Path(name, "b.bundle"), GatherOptions(use_cache=False, **options))
        with BundleReader(gathered.path) as bundle:
            yield bundle


def pages_of(files: dict[str, str], **options: Any) -> list[Page]:
    with tempfile.TemporaryDirectory() as name:
        folder = write_files(Path(name, "source"), files)
        gathered = gather(folder, Path(name, "b.bundle"), GatherOptions(use_cache=False, **options))
        with BundleReader(gathered.path) as bundle:
            return list(bundle.pages())


def page_links_of(files: dict[str, str]) -> dict[str, Link]:
    """Mention as written to its link, of the guides of a gathered source."""
    _, index, _ = gather_files(files, slug="own")
    linker = Linker(index, MemoryPortal(index))
    texts = linker.link_pages(pages_of(files, slug="own"))
    return {m.text: found for t in texts for m, found in zip(t.mentions, t.links, strict=True)}


def read_as(source: str, file: str, module: str = "", **options: list[str]) -> dict[str, Symbol]:
    """Symbols of one file of any language by path; the language is that of the file's name."""
    found = read_source(dedent(source).encode(), SourceFile(file, language_of(file), module, options=options))
    return {s.path: s for s in found.symbols}


def examples_of(files: dict[str, str], **options: str) -> tuple[Gathered, list[Symbol], dict[str, LinkedText]]:
    """A gathered source, its examples, and the links of each by its path."""
    gathered, index, symbols = gather_files(files, **options)
    found = [s for s in symbols if s.kind == "example"]
    texts = {text.path: text for text in Linker(index, MemoryPortal(index)).link_symbols(found)}
    return gathered, found, texts


def links_of(files: dict[str, str], *others: ReleaseIndex, **options: str) -> dict[tuple[str, str], tuple[str, str]]:
    """(symbol or page, mention as written) to (outcome, path or name looked for) of a gathered source."""
    _, index, symbols = gather_files(files, **options)
    linker = Linker(index, MemoryPortal(index, *others))
    found = {}
    for text in linker.link_symbols(symbols):
        for mention, link in zip(text.mentions, text.links, strict=True):
            found[text.path, mention.text] = (link.outcome, link.path or link.wanted)
    return found
