"""What tests cost that are examples: gathering them, and linking what they exercise."""

from __future__ import annotations

import gc
import os
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from shutil import copytree

from tests.support.sources import index_of

from bench.corpora import corpus
from bench.measures import Alone, Row, parse_alone, spent
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.linker import Linker
from zarbek.core.material.bundle_file import BundleReader

#: All tests are examples.
PROJECT = '[examples]\nshown = ["*"]\n'


def measure_examples() -> Iterator[Row]:
    """A source with all of its tests, of which each is an example."""
    name = "sqlalchemy, with tests"
    with tempfile.TemporaryDirectory() as folder:
        os.environ["ZARBEK_CACHE"] = f"{folder}/cache"
        root, out = Path(folder, "tree"), Path(folder, "b.bundle")
        copytree(corpus(name), root, symlinks=True)
        top = next(root.iterdir())
        options = GatherOptions(slug="measured", version="1")
        own_cpu, own_parsing = _gathered(top, out, options, [])
        (top / "zarbek.toml").write_text(PROJECT, encoding="utf-8")
        options = GatherOptions(slug="measured", version="2")
        os.environ["ZARBEK_CACHE"] = f"{folder}/another"
        first_cpu, parse_cpu = _gathered(top, out, options, ["test/"])
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
    began = time.process_time()
    links = [link for text in Linker(index, Alone()).link_symbols(examples) for link in text.links]  # type: ignore[arg-type]
    seconds = time.process_time() - began
    linked = sum(link.outcome == "linked" for link in links)
    yield (
        f"{name}: what examples exercise, linked at first sight",
        f"{mentions / seconds:,.0f} mentions a second",
        f"{mentions:,} mentions, {linked:,} lead to symbols",
    )


def _gathered(root: Path, out: Path, options: GatherOptions, include: list[str]) -> tuple[float, float]:
    """CPU seconds of a gathering, and of parsing alone."""
    gc.disable()
    parse_cpu, _ = spent(lambda: parse_alone(root, include))
    gc.enable()
    return spent(lambda: gather(root, out, options))[0], parse_cpu
