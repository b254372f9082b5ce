"""What the same small publish costs in portals of different sizes."""

from __future__ import annotations

import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from bench.measures import Row
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather

SIZES = (10_000, 100_000, 1_000_000)
#: Mentions of one project that fills the portal: 10 a function.
PER_PROJECT = 10_000
FUNCTIONS = 200
DEPENDANTS = 10
REPEATS = 5


def measure_growth(sizes: tuple[int, ...] = SIZES, plot: Path | None = None) -> list[Row]:
    """A library of 200 functions changes two of them; ten projects mention each of these once. The
    rest of the portal refers to itself and to a hub. Seconds from upload to report, and rows."""
    rows: list[Row] = []
    points: list[tuple[int, float, float]] = []
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        room = Path(folder)
        _publish(service, room, "hub", "1.0", {"hub.py": _functions(FUNCTIONS)})
        _publish(service, room, "lib", "1.0.0", {"lib.py": _functions(FUNCTIONS)})
        for number in range(DEPENDANTS):
            text = "".join(f'def g{n}():\n    """See :func:`lib.f{n}`."""\n\n' for n in range(FUNCTIONS))
            _publish(service, room, f"user{number}", "1.0", {f"user{number}.py": text})
        filled, release = FUNCTIONS * DEPENDANTS, 0
        for size in sizes:
            while filled < size:
                number = filled // PER_PROJECT
                _publish(service, room, f"fill{number}", "1.0", {f"fill{number}.py": _filling(number)})
                filled += PER_PROJECT
            costs, written = [], []
            for _ in range(REPEATS):
                release += 1
                before = count_rows(service)
                costs.append(
                    _publish(service, room, "lib", f"1.{release}.0", {"lib.py": _functions(FUNCTIONS, release)})
                )
                written.append(count_rows(service) - before)
            cost, count = statistics.median(costs), statistics.median(written)
            points.append((filled, cost, count))
            examined = service.client.report("lib").examined
            rows.append((
                f"small publish in a portal of {filled:,} references", f"{cost:.2f} s, {count:.0f} rows",
                f"{cost / points[0][1]:.2f} × of the smallest; looked again at {examined.mentions} of {examined.judged:,}",
            ))  # fmt: skip
    if plot is not None:
        plot.write_text(_plot(points))
    return rows


def _functions(count: int, release: int = 0) -> str:
    """The first two functions differ from release to release."""
    changed = ", ".join(f"p{n}=0" for n in range(release))
    return "".join(
        f'def f{n}(a{", " + changed if n < 2 and changed else ""}):\n    """Does the thing of number {n}."""\n\n'
        for n in range(count)
    )


def _filling(number: int) -> str:
    own = f"fill{number}"
    names = [f"{own}.f{{}}"] * 8 + ["hub.f{}"] * 2
    return "".join(
        f'def f{n}():\n    """'
        + " ".join(f":func:`{name.format((n * 7 + at) % FUNCTIONS)}`" for at, name in enumerate(names))
        + '"""\n\n'
        for n in range(PER_PROJECT // 10)
    )


def _publish(service: Service, room: Path, slug: str, version: str, files: dict[str, str]) -> float:
    source = room / slug
    source.mkdir(exist_ok=True)
    for name, text in files.items():
        (source / name).write_text(text)
    bundle = room / f"{slug}.bundle"
    gather(source, bundle, GatherOptions(slug=slug, version=version, use_cache=False))
    started = time.perf_counter()
    run = service.client.publish(bundle)
    for _ in service.client.watch(run.id):
        pass
    spent = time.perf_counter() - started
    done = service.client.run(run.id)
    print(f"{slug} {version}: {spent:.2f} s", file=sys.stderr, flush=True)
    if done.state != "done":
        raise SystemExit(f"{slug} {version}: {done.problem}")
    return spent


def count_rows(service: Service) -> int:
    """Rows that publishing writes, over all tables of the reference, links and findings."""
    tables = ("content_symbolcontent", "content_block", "content_pagecontent", "links_linkdocument", "links_referrer",
              "links_dependence", "links_relocation", "catalog_release", "findings_findingrecord", "findings_healthpoint")  # fmt: skip
    query = "SELECT " + " + ".join(f"(SELECT COUNT(*) FROM zarbek.{table})" for table in tables)
    socket = service.processes.database.socket  # type: ignore[union-attr]
    done = subprocess.run(["mariadb", "-S", socket, "-N", "-e", query], capture_output=True, check=True)
    return int(done.stdout)


def _plot(points: list[tuple[int, float, float]]) -> str:
    """Cost against size as a picture (SVG): size by powers of ten, cost from zero."""
    width, height, left, bottom = 560, 260, 60, 44
    most = max(cost for _, cost, _ in points) * 1.25

    def x(size: int) -> float:
        low, high = len(str(points[0][0])) - 1, len(str(points[-1][0])) - 1
        return left + (len(str(size)) - 1 - low) / max(high - low, 1) * (width - left - 40)

    def y(cost: float) -> float:
        return height - bottom - cost / most * (height - bottom - 20)

    line = " ".join(f"{x(size):.0f},{y(cost):.0f}" for size, cost, _ in points)
    marks = "".join(
        f'<circle cx="{x(s):.0f}" cy="{y(c):.0f}" r="4" fill="#0f6355"/>'
        f'<text x="{x(s):.0f}" y="{y(c) - 10:.0f}" text-anchor="middle">{c:.2f} s, {r:.0f} rows</text>'
        f'<text x="{x(s):.0f}" y="{height - 18}" text-anchor="middle">{s:,}</text>'
        for s, c, r in points
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width} {height}" font-family="sans-serif" font-size="13">'
        f'<rect width="{width}" height="{height}" fill="#ffffff"/>'
        f'<line x1="{left}" x2="{width - 20}" y1="{height - bottom}" y2="{height - bottom}" stroke="#54615e"/>'
        f'<polyline points="{line}" fill="none" stroke="#0f6355" stroke-width="2"/>{marks}'
        f'<text x="{left}" y="{height - 2}">references in the portal</text></svg>\n'
    )
