"""Measures of the core: gathering and linking, without a service."""

from __future__ import annotations

import ast
import gc
import multiprocessing
import os
import resource
import tempfile
import time
import warnings
from collections.abc import Callable, Iterable
from contextlib import suppress
from pathlib import Path

from tests.support.sources import index_of

from bench.corpora import corpus
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.linker import Linker
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.material.folder import list_files, open_folder

Row = tuple[str, str, str]


def cpu_s() -> float:
    """CPU seconds of this process and its ended children."""
    own, children = resource.getrusage(resource.RUSAGE_SELF), resource.getrusage(resource.RUSAGE_CHILDREN)
    return own.ru_utime + own.ru_stime + children.ru_utime + children.ru_stime


def spent(work: Callable[[], object]) -> tuple[float, float]:
    """(CPU seconds, wall seconds)."""
    cpu, wall = cpu_s(), time.perf_counter()
    work()
    return cpu_s() - cpu, time.perf_counter() - wall


def parse_alone(root: Path, include: Iterable[str] = ()) -> None:
    """Parse every file of Python and do nothing with it: what reading is held against. include: patterns of files that
    are gathered besides."""
    for file in list_files(open_folder(root), include=include):
        if file.endswith(".py"):
            _parse(root / file)


def parse_on_all_cores(root: Path, include: Iterable[str] = ()) -> None:
    """The same with every core at work, as gathering has them: cores that share what they are made of are slower
    together than one alone."""
    files = [root / file for file in list_files(open_folder(root), include=include) if file.endswith(".py")]
    with multiprocessing.get_context("fork").Pool(initializer=gc.disable) as pool:
        pool.map(_parse, files, chunksize=4)
        pool.close()
        pool.join()


def _parse(file: Path) -> None:
    with warnings.catch_warnings(), suppress(SyntaxError, ValueError):
        warnings.simplefilter("ignore")
        ast.parse(file.read_bytes())


def measure_gather(name: str) -> list[Row]:
    """Gathering a folder: anew, and with everything in the cache."""
    root = corpus(name)
    with tempfile.TemporaryDirectory() as folder:
        os.environ["ZARBEK_CACHE"] = f"{folder}/cache"
        out = Path(folder, "b.bundle")
        options = GatherOptions(slug=name, version="1")
        gc.disable()
        parse_cpu, _ = spent(lambda: parse_alone(root))
        gc.enable()
        first_cpu, first_wall = spent(lambda: gather(root, out, options))
        beside_cpu, _ = spent(lambda: parse_on_all_cores(root))
        with BundleReader(out) as bundle:
            counts, findings = bundle.manifest.counts, sum(1 for _ in bundle.findings())
        second_cpu, second_wall = spent(lambda: gather(root, out, options))
    what = f"{counts['symbols']:,} symbols, {findings} findings"
    return [
        (
            f"gather {name}: CPU of gather / parsing alone",
            f"{first_cpu / parse_cpu:.2f}",
            f"{what}; {first_cpu:.1f} s CPU, {first_wall:.1f} s wall",
        ),
        (
            f"gather {name}: CPU of gather / parsing alone on all cores",
            f"{first_cpu / beside_cpu:.2f}",
            f"{parse_cpu:.2f} s CPU on one core, {beside_cpu:.2f} s on all",
        ),
        (
            f"gather {name} again, nothing changed / first",
            f"{100 * second_cpu / first_cpu:.1f} %",
            f"{second_wall:.2f} s wall",
        ),
    ]


class Alone:
    """A portal that holds nothing else."""

    def owner_of(self, namespace: str, family: str = "") -> None:
        """Nobody."""

    def index_of(self, project: str) -> None:
        """There is none."""

    def find(self, project: str, version: str) -> None:
        """There is none."""

    def newest_of(self, project: str) -> None:
        """There is none."""

    def has_project(self, project: str) -> bool:
        """There is none."""
        return False

    def last_with(self, project: str, name: str) -> str:
        """None ever had it."""
        return ""

    def owners_of(self, namespace: str, family: str = "") -> list[str]:
        """Nobody."""
        return []

    def is_contested(self, namespace: str, family: str = "") -> bool:
        """Never."""
        return False

    def moved_in(self, project: str, version: str, name: str) -> str:
        """It did not."""
        return ""

    def predecessor(self, project: str, version: str) -> None:
        """There is none."""

    def outside_address(self, name: str) -> str:
        """Nowhere."""
        return ""

    def published_at(self, address: str) -> None:
        """Nothing is."""


def measure_links(name: str) -> list[Row]:
    """Linking a release at first sight, alone in its portal."""
    with tempfile.TemporaryDirectory() as folder:
        out = Path(folder, "b.bundle")
        gather(corpus(name), out, GatherOptions(slug=name, version="1", use_cache=False))
        with BundleReader(out) as bundle:
            symbols = list(bundle.symbols())
            index = index_of(bundle, symbols)
    gc.collect()
    gc.freeze()
    linker = Linker(index, Alone())
    mentions = sum(len(s.mentions) for s in symbols)
    cold, _ = spent(lambda: list(linker.link_symbols(symbols)))
    warm, _ = spent(lambda: list(linker.link_symbols(symbols)))
    return [
        (
            f"own links of {name}, each name for the first time",
            f"{mentions / cold:,.0f} a second",
            f"{mentions:,} mentions",
        ),
        (f"own links of {name}, names seen before", f"{mentions / warm:,.0f} a second", ""),
    ]


def percentile(times: list[float], share: float) -> float:
    """The time that this share of all stays below or at."""
    return sorted(times)[min(int(len(times) * share), len(times) - 1)]
