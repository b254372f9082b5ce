"""Gathering of every language against parsing the same files alone."""

from __future__ import annotations

import gc
import os
import tempfile
from collections.abc import Iterator
from pathlib import Path

from bench.corpora import corpus
from bench.measures import Row, spent
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.material.folder import list_files, open_folder
from zarbek.core.sources.languages.discovery import locate_sources
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.syntax_tree import parse

SETS = {
    "java.base": "Java", "rust-std": "Rust", "deal.II": "C++", "eigen": "C++", "glib": "C", "go-std": "Go",
    "dom": "TypeScript declarations", "date-fns": "JavaScript and declarations", "rxjs": "TypeScript",
    "three": "JavaScript", "pythonnet": "C#", "react-native-screens": "Kotlin",
}  # fmt: skip
GRAMMARS = ("java", "kotlin", "c", "cpp", "csharp", "javascript", "typescript", "go", "rust")


def measure_languages() -> Iterator[Row]:
    """Reading each language's set against parsing it only."""
    for name in SETS:
        yield from _measure(name)


def _sources(root: Path) -> list[SourceFile]:
    folder = open_folder(root)
    read = lambda file: folder.read(file).decode(errors="replace")  # noqa: E731
    return [s for s in locate_sources(list_files(folder), read, (), {}) if s.language in GRAMMARS]


def _parse_alone(root: Path, sources: list[SourceFile]) -> None:
    for source in sources:
        data = (root / source.file).read_bytes()
        if len(data) < 8 * 2**20 and b"\0" not in data:
            parse(data, source.language)


def _measure(name: str) -> list[Row]:
    root = corpus(name)
    sources = _sources(root)
    with tempfile.TemporaryDirectory() as folder:
        os.environ["ZARBEK_CACHE"] = f"{folder}/cache"
        out = Path(folder, "b.bundle")
        options = GatherOptions(slug=name.lower().replace(".", "-"), version="1")
        gc.disable()
        parse_cpu, _ = spent(lambda: _parse_alone(root, sources))
        gc.enable()
        first_cpu, first_wall = spent(lambda: gather(root, out, options))
        with BundleReader(out) as bundle:
            counts = bundle.manifest.counts
            unread = sum(1 for f in bundle.findings() if f.rule == "text/unreadable")
        again_cpu, _ = spent(lambda: gather(root, out, options))
    note = f"{len(sources):,} files, {counts['symbols']:,} symbols, {unread} with unread parts; "
    note += f"{first_cpu:.1f} s CPU, {first_wall:.1f} s wall"
    return [
        (f"{name} ({SETS[name]}), CPU of gather / parsing alone", f"{first_cpu / parse_cpu:.2f}", note),
        (f"{name} again / first", f"{100 * again_cpu / first_cpu:.1f} %", ""),
    ]
