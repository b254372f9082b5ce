"""Many people at once: publishers that publish one release after the other, and readers who go on reading."""

from __future__ import annotations

import random
import tempfile
import threading
import time
from collections import Counter, defaultdict
from collections.abc import Iterator
from pathlib import Path

import httpx
from tests.support.sources import write_files

from bench.measures import Row, percentile
from bench.supervised import Supervised, last_state
from zarbek.core.gathering.gather import GatherOptions, gather

PUBLISHERS, READERS, QUIET_S, BUSY_S = 20, 50, 60.0, 300.0
#: Seconds that a reader looks at what came, at least and at most.
LOOKS_S = (0.5, 1.5)
MODULES, FUNCTIONS = 8, 60
_SEED = 29


class Load:
    """What everybody does, and how long readers waited."""

    def __init__(self, portal: Supervised, folder: Path) -> None:
        self.portal, self.folder = portal, folder
        self.lock, self.stop = threading.Lock(), threading.Event()
        self.waits: dict[str, list[float]] = defaultdict(list)
        self.errors: Counter[str] = Counter()
        self.runs: Counter[str] = Counter()
        self.slowest_runs: list[float] = []


def measure_load() -> Iterator[Row]:
    """Readers alone, then beside publishers."""
    with Supervised() as portal, tempfile.TemporaryDirectory() as folder:
        load = Load(portal, Path(folder))
        for number in range(PUBLISHERS):
            _publish(load, number, 0)
        time.sleep(5)
        quiet = _phase(load, QUIET_S, publishers=0)
        busy = _phase(load, BUSY_S, publishers=PUBLISHERS)
        errors = ", ".join(f"{count} × {what}" for what, count in load.errors.items()) or "none"
        yield f"errors of {READERS} readers and {PUBLISHERS} publishers", errors, ""
        for kind, times in sorted(busy.items()):
            before, after = percentile(quiet[kind], 0.99), percentile(times, 0.99)
            told = (
                f"p50 {percentile(quiet[kind], 0.5) * 1000:.0f} ms alone, {percentile(times, 0.5) * 1000:.0f} ms beside"
            )
            told += f"; {len(times):,} readings"
            yield (
                f"p99 of reading {kind}, beside publishes / alone",
                f"{after / before:.2f} ×",
                (f"{after * 1000:.0f} ms against {before * 1000:.0f} ms; {told}"),
            )
        states = ", ".join(f"{count} {state}" for state, count in load.runs.items())
        slowest = percentile(load.slowest_runs, 0.5)
        yield (
            f"publishes in {BUSY_S / 60:.0f} minutes",
            states,
            f"{slowest:.1f} s the middle one, from upload to its end",
        )


def _phase(load: Load, seconds: float, publishers: int) -> dict[str, list[float]]:
    load.waits, load.stop = defaultdict(list), threading.Event()
    threads = [threading.Thread(target=_read_on, args=(load, n)) for n in range(READERS)]
    threads += [threading.Thread(target=_publish_on, args=(load, n)) for n in range(publishers)]
    for thread in threads:
        thread.start()
    time.sleep(seconds)
    load.stop.set()
    for thread in threads:
        thread.join()
    every = [t for times in load.waits.values() for t in times]
    return {**load.waits, "anything": every}


# Publishers -------------------------------------------------------------------------------


def _publish_on(load: Load, number: int) -> None:
    release = 1
    while not load.stop.is_set():
        _publish(load, number, release)
        release += 1


def _publish(load: Load, number: int, release: int) -> None:
    """A release that changes a few functions; its texts refer to itself and to the project before it."""
    slug, before, extra = f"load{number}", f"load{(number - 1) % PUBLISHERS}", f", wind={release}"
    files = {}
    for module in range(MODULES):
        functions = [
            f"def f{n}(mast, gate{extra if (n + release) % 40 == 0 else ''}):\n"
            f'    """Open it, after :func:`{slug}.m{(module + 1) % MODULES}.f{n}` and :func:`{before}.m{module}.f{n}`."""\n'
            for n in range(FUNCTIONS)
        ]
        files[f"{slug}/m{module}.py"] = '"""A module."""\n' + "\n".join(functions)
    files[f"{slug}/__init__.py"] = '"""The package."""\n'
    place = load.folder / slug / str(release)
    version = f"1.{release}.0"
    bundle = gather(
        write_files(place / "source", files),
        place / "b.bundle",
        GatherOptions(slug=slug, version=version, use_cache=False),
    ).path
    started = time.monotonic()
    run = load.portal.client.publish(bundle)
    state = last_state(load.portal, run.id, 600)
    with load.lock:
        load.runs[state] += release > 0
        load.slowest_runs.append(time.monotonic() - started)


# Readers ----------------------------------------------------------------------------------


def _read_on(load: Load, number: int) -> None:
    """What somebody does who looks something up: search, its page, the contents, the report."""
    chance = random.Random(_SEED * 100 + number)
    with httpx.Client(base_url=f"{load.portal.url}/api/v1", timeout=60) as http:
        while not load.stop.wait(chance.uniform(*LOOKS_S)):
            slug = f"load{chance.randrange(PUBLISHERS)}"
            symbol = f"{slug}.m{chance.randrange(MODULES)}.f{chance.randrange(FUNCTIONS)}"
            kind, path = chance.choice((
                ("a symbol", f"/projects/{slug}/releases/latest/symbols/{symbol}"),
                ("a symbol", f"/projects/{slug}/releases/latest/symbols/{symbol}"),
                ("a search", f"/search?q={symbol.rpartition('.')[2]}"),
                ("a list", f"/projects/{slug}/releases/latest/contents"),
                ("a list", "/projects"),
                ("a report", f"/findings?project={slug}"),
                ("the first page", "/dashboard"),
            ))  # fmt: skip
            started = time.perf_counter()
            try:
                status = str(http.get(path).status_code)
            except httpx.HTTPError as error:
                status = type(error).__name__
            took = time.perf_counter() - started
            with load.lock:
                load.waits[kind].append(took)
                if status != "200":
                    load.errors[f"{status} {path}"] += 1
