"""How what a portal keeps and does grows with the symbols of a release and with its releases: the slopes on which the
figures for a large portal rest."""

from __future__ import annotations

import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import quote

import httpx
from tests.support.sources import write_files

from bench.growth import count_rows
from bench.measures import Row
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather

SIZES = (2_000, 10_000, 50_000)
#: Functions of a module; releases of each size after the first, each of which changes one function in a hundred.
PER_MODULE, RELEASES = 100, 5
_READINGS = 12
#: The portal for which figures are told: projects, releases of each, symbols of each, by kind of project.
LARGE = ((900, 50, 4_000), (90, 50, 20_000), (10, 50, 100_000))


def measure_slopes() -> Iterator[Row]:
    """Seconds, rows and bytes of a first release and of the following ones, and of what is read from them."""
    with Service() as service, tempfile.TemporaryDirectory() as name:
        first: list[tuple[int, float, float]] = []
        later: list[tuple[int, float, float]] = []
        for size in SIZES:
            slug, room = f"size{size}", Path(name)
            rows, data = count_rows(service), _bytes(service)
            took = _publish(service, room, slug, size, 0)
            made, grown = count_rows(service) - rows, _bytes(service) - data
            first.append((size, took, grown))
            yield f"a first release of {size:,} symbols", f"{took:.1f} s, {made:,} rows", f"{grown / 2**20:.0f} MiB"
            rows, data = count_rows(service), _bytes(service)
            times = [_publish(service, room, slug, size, number) for number in range(1, RELEASES + 1)]
            made, grown = (count_rows(service) - rows) / RELEASES, (_bytes(service) - data) / RELEASES
            took = sum(times) / RELEASES
            later.append((size, took, grown))
            yield "one that changes 1 % of them", f"{took:.1f} s, {made:,.0f} rows", f"{grown / 2**20:.1f} MiB"
            yield from _readings(service, slug, size)
            yield from _vanished(service, room, slug)
        for what, points in (("first release", first), ("following release", later)):
            seconds, data = (_slope([(p[0], p[n]) for p in points]) for n in (1, 2))
            yield f"slope of a {what}", f"{seconds * 1000:.2f} ms a symbol", f"{data:,.0f} bytes a symbol"
        yield from _on_paper(_slope([(p[0], p[2]) for p in first]), _slope([(p[0], p[2]) for p in later]))


def _on_paper(first: float, later: float) -> Iterator[Row]:
    """first, later: bytes a symbol of a first release and of a following one."""
    total = sum(projects * size * (first + (releases - 1) * later) for projects, releases, size in LARGE)
    symbols = sum(projects * size for projects, _, size in LARGE)
    kinds = ", ".join(f"{projects} × {size:,}" for projects, _, size in LARGE)
    yield (
        f"{sum(p for p, _, _ in LARGE):,} projects of 50 releases ({kinds} symbols)",
        f"{total / 2**30:,.0f} GiB", f"{symbols:,} symbols in the newest releases",
    )  # fmt: skip


def _slope(points: list[tuple[int, float]]) -> float:
    """By least squares."""
    mean_x, mean_y = (sum(p[n] for p in points) / len(points) for n in (0, 1))
    return sum((x - mean_x) * (y - mean_y) for x, y in points) / sum((x - mean_x) ** 2 for x, _ in points)


def _publish(service: Service, room: Path, slug: str, size: int, release: int) -> float:
    """One function of each module differs from release to release."""
    files, count = {f"{slug}/__init__.py": '"""The package."""\n'}, size // PER_MODULE
    for module in range(count):
        text = [f'"""Module {module} of the crossing, after :mod:`{slug}.m{(module + 1) % count}`."""\n']
        for n in range(PER_MODULE):
            changed = f" Changed in {release}." if n == release else ""
            gone = "_gone" if n == PER_MODULE - 1 and module == 0 and release < RELEASES else ""
            text.append(
                f"def f{n}{gone}(mast: str, gate: int = {n}) -> bool:\n"
                f'    """Open the gate of number {n}.{changed}\n\n    See :func:`f{(n + 1) % (PER_MODULE - 1)}` and'
                f" :func:`{slug}.m{(module + 3) % count}.f{n % (PER_MODULE - 1)}`.\n\n"
                '    :param mast: whose\n    :param gate: which\n    :returns: whether it opened\n    """\n'
            )
        files[f"{slug}/m{module}.py"] = "\n".join(text)
    with tempfile.TemporaryDirectory(dir=room) as folder:
        source = write_files(Path(folder, "source"), files)
        options = GatherOptions(slug=slug, version=f"1.{release}.0", use_cache=False)
        return service.publish(gather(source, Path(folder, "b.bundle"), options).path)


def _readings(service: Service, slug: str, size: int) -> Iterator[Row]:
    """Pages that nobody has read before."""
    base, times, largest = f"/api/v1/projects/{slug}/releases/1.{RELEASES}.0", [], 0
    with httpx.Client(base_url=service.processes.address, timeout=60) as http:
        for n in range(_READINGS):
            module = n * (size // PER_MODULE // _READINGS)
            started = time.perf_counter()
            answer = http.get(f"{base}/symbols/{quote(f'{slug}.m{module}.f{n}')}").raise_for_status()
            times.append(time.perf_counter() - started)
            largest = max(largest, len(answer.content))
    told = f"{sorted(times)[len(times) // 2] * 1000:.0f} ms the middle one, {max(times) * 1000:.0f} ms the slowest"
    yield f"first reading of {_READINGS} pages of it", told, f"{largest / 1000:.0f} kB the largest"


def _vanished(service: Service, room: Path, slug: str) -> Iterator[Row]:
    """A text of another project names what is gone: which releases had it?"""
    text = f'"""See :func:`{slug}.m0.f{PER_MODULE - 1}_gone` and :func:`{slug}.m0.never`."""\n'
    with tempfile.TemporaryDirectory(dir=room) as folder:
        source = write_files(Path(folder, "source"), {f"reader{slug}.py": text})
        options = GatherOptions(slug=f"reader{slug}", version="1.0", use_cache=False)
        took = service.publish(gather(source, Path(folder, "b.bundle"), options).path)
    dangling = sum(f.finding.rule == "dangling/symbol" for f in service.client.findings(project=f"reader{slug}"))
    yield "a project of one text that names two symbols which it has not", f"{took:.1f} s", f"{dangling} dangle"


def _bytes(service: Service) -> int:
    """Of the database's tables, as files."""
    data = Path(service.processes.home, "mariadb", "data", "zarbek")
    return sum(file.stat().st_size for file in data.glob("*.ibd"))
