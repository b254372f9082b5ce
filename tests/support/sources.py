"""Small sources on disk, and what they gather to."""

from __future__ import annotations

import tempfile
from pathlib import Path
from textwrap import dedent

from zarbek.core.gathering.gather import Gathered, GatherOptions, gather
from zarbek.core.linking.index import ReleaseIndex, entry_of, page_entry_of
from zarbek.core.material.bundlefile import BundleReader
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.languages.python.reader import ModuleReading, read_module


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


def gather_files(files: dict[str, str], **options: str) -> tuple[Gathered, ReleaseIndex, list[Symbol]]:
    """Gather files from a folder that is gone afterwards; the bundle has been read whole."""
    with tempfile.TemporaryDirectory() as name:
        folder = write_files(Path(name, "source"), files)
        gathered = gather(folder, Path(name, "b.bundle"), GatherOptions(use_cache=False, **options))
        with BundleReader(gathered.path) as bundle:
            symbols = list(bundle.symbols())
            manifest = bundle.manifest
            index = ReleaseIndex(
                manifest.project, manifest.version, symbols=map(entry_of, symbols), aliases=bundle.aliases(),
                scopes=bundle.scopes(), pages=map(page_entry_of, bundle.pages()), assets=bundle.asset_names(),
                manifest=manifest,
            )  # fmt: skip
        return gathered, index, symbols
