"""What tests cost that are examples: gathering them, linking what they exercise, and reading them."""

from __future__ import annotations

import gc
import os
import statistics
import tempfile
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from shutil import copytree

import httpx
from tests.support.sources import index_of

from bench.corpora import corpus
from bench.measures import Alone, Row, parse_alone, spent
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.linker import Linker
from zarbek.core.material.bundle_file import BundleReader

#: All tests are examples.
PROJECT = '[examples]\nshown = ["*"]\n'


def measure_examples() -> Iterator[Row]:
    """A source with all of its tests, of which each is an example."""
    with tempfile.TemporaryDirectory() as folder:
        yield from _measured(folder)


def _measured(folder: str) -> Iterator[Row]:
    name = "sqlalchemy, with tests"
    os.environ["ZARBEK_CACHE"] = f"{folder}/cache"
    root, out = Path(folder, "tree"), Path(folder, "b.bundle")
    copytree(corpus(name), root, symlinks=True)
    top = next(root.iterdir())
    options = GatherOptions(slug="measured", version="1")
    own_cpu, own_parsing, _ = _gathered(top, out, options, [])
    (top / "zarbek.toml").write_text(PROJECT, encoding="utf-8")
    options = GatherOptions(slug="measured", version="2")
    os.environ["ZARBEK_CACHE"] = f"{folder}/another"
    first_cpu, parse_cpu, first_wall = _gathered(top, out, options, ["test/"])
    test = next(top.rglob("test_query.py"))
    test.write_text(test.read_text(encoding="utf-8") + "\n# Changed.\n", encoding="utf-8")
    again_cpu, _ = spent(lambda: gather(top, out, options))
    with BundleReader(out) as bundle:
        symbols = list(bundle.symbols())
        index = index_of(bundle, symbols)
    examples = [symbol for symbol in symbols if symbol.kind == "example"]
    mentions = sum(len(example.mentions) for example in examples)
    told = f"{len(examples):,} examples beside {len(symbols) - len(examples):,} symbols"
    yield f"gather {name}: CPU of gather / parsing alone", f"{first_cpu / parse_cpu:.2f}", told
    yield "the same without tests", f"{own_cpu / own_parsing:.2f}", f"{own_cpu:.1f} s and {first_cpu:.1f} s CPU"
    more = (first_cpu - own_cpu) / (parse_cpu - own_parsing)
    yield "what tests add to each", f"{more:.2f}", f"{parse_cpu - own_parsing:.1f} s of parsing"
    yield f"gather {name} again, one test changed / first", f"{100 * again_cpu / first_cpu:.1f} %", ""
    gc.freeze()
    began = time.process_time()
    links = [link for text in Linker(index, Alone()).link_symbols(examples) for link in text.links]  # type: ignore[arg-type]
    seconds = time.process_time() - began
    linked = sum(link.outcome == "linked" for link in links)
    yield (
        f"{name}: what examples exercise, linked at first sight",
        f"{mentions / seconds:,.0f} mentions a second",
        f"{mentions:,} mentions, {linked:,} lead to symbols",
    )
    most = Counter(link.path for link in links if link.outcome == "linked").most_common(30)
    yield from _published(out, first_wall, most, [example.path for example in examples[:: len(examples) // 10]])


def _gathered(root: Path, out: Path, options: GatherOptions, include: list[str]) -> tuple[float, float, float]:
    """CPU seconds of a gathering, and of parsing alone; wall seconds of the first."""
    gc.disable()
    parse_cpu, _ = spent(lambda: parse_alone(root, include))
    gc.enable()
    cpu, wall = spent(lambda: gather(root, out, options))
    return cpu, parse_cpu, wall


def _published(bundle: Path, gathering: float, most: list[tuple[str, int]], examples: list[str]) -> Iterator[Row]:
    """most: elements with the most mentions in examples, and how many."""
    with Service() as service:
        publishing = service.publish(bundle)
        place = "/api/v1/projects/measured/releases/2"
        with httpx.Client(base_url=service.processes.address, timeout=60) as http:
            http.get(f"{place}/symbols/{examples[0]}").raise_for_status()  # Nobody measures a process that begins.
            of_most, of_examples = (
                [_first_ms(http, f"{place}/symbols/{path}") for path in paths]
                for paths in ([path for path, _ in most], examples[1:])
            )
            tested = _first_ms(http, f"{place}/tested")
    yield "upload to report / gather", f"{publishing / gathering:.2f}", f"{publishing:.1f} s against {gathering:.1f} s"
    shown = f"{statistics.median(of_most):.0f} / {max(of_most):.0f} ms"
    yield "first reading of elements with the most examples, median / slowest", shown, f"up to {most[0][1]:,} mentions"
    yield (
        "first reading of an example, median / slowest",
        (f"{statistics.median(of_examples):.0f} / {max(of_examples):.0f} ms"),
        "",
    )
    yield "first reading of what is tested", f"{tested:.0f} ms", ""


def _first_ms(http: httpx.Client, address: str) -> float:
    began = time.perf_counter()
    http.get(address).raise_for_status()
    return (time.perf_counter() - began) * 1000
