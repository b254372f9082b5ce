"""Files with their comments: what they add to gathering and to what is stored, and how long a first reading takes."""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from shutil import copytree

import httpx

from bench.corpora import corpus
from bench.measures import Row, spent
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather

SETS = ("sqlalchemy", "django", "java.base", "eigen")
_READ = 40


def measure_files() -> Iterator[Row]:
    """Each set with its files and without."""
    for name in SETS:
        yield from _gathering(name)
    for name in ("sqlalchemy", "eigen"):
        yield from _stored(name)


def _variants(name: str, folder: Path) -> dict[str, Path]:
    """The same sources that show all files, and none."""
    made = {}
    for shown in ("all", "none"):
        root = folder / shown
        copytree(corpus(name), root, symlinks=True)
        (root / "zarbek.toml").write_text(f'source = "{shown}"\n', encoding="utf-8")
        made[shown] = root
    return made


def _gathering(name: str) -> list[Row]:
    with tempfile.TemporaryDirectory() as folder:
        roots, out = _variants(name, Path(folder)), Path(folder, "b.bundle")
        options = GatherOptions(slug="measured", version="1", use_cache=False)
        for root in roots.values():  # What is read first brings the files into memory.
            gather(root, out, options)
        times: dict[str, list[float]] = {"all": [], "none": []}
        for _ in range(3):
            for shown, root in roots.items():
                times[shown].append(spent(lambda root=root: gather(root, out, options))[0])
        least = {shown: min(found) for shown, found in times.items()}
    more = 100 * (least["all"] / least["none"] - 1)
    return [
        (f"{name}, gathered with files", f"+{more:.1f} %", f"{least['all']:.1f} s against {least['none']:.1f} s CPU")
    ]


def _stored(name: str) -> list[Row]:
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        os.environ |= {k: v for k, v in service.processes.environment.items() if k.startswith(("ZARBEK", "DJANGO"))}
        out = Path(folder, "b.bundle")
        gather(corpus(name), out, GatherOptions(slug="measured", version="1", use_cache=False))
        service.publish(out)
        files, rest = _bytes_of(service)
        walls = _first_readings(service)
    share = f"{files / 2**20:.1f} MiB beside {rest / 2**20:.1f} MiB of symbols, pages, blocks and links"
    rows = [(f"{name}, files beside what is stored", f"+{100 * files / rest:.1f} %", share)]
    told = f"{len(walls)} files, median {statistics.median(walls) * 1000:.0f} ms"
    return [*rows, (f"{name}, first reading of a file", f"{max(walls) * 1000:.0f} ms", told)]


def _bytes_of(service: Service) -> tuple[int, int]:
    """Bytes of the documents of files, and of all others."""
    import django

    django.setup()
    from django.db.models import Sum
    from django.db.models.functions import Length

    from zarbek.service.catalog.models import Release
    from zarbek.service.content.models import Block, PageContent, SymbolContent
    from zarbek.service.content.queries import list_sources
    from zarbek.service.links.models import LinkDocument

    release = Release.objects.get(project__slug="measured")
    ids = [ref.content for ref in list_sources(release.pk)]
    own = sum(len(row) for row in PageContent.objects.filter(pk__in=ids).values_list("document", flat=True))
    total = sum(
        model.objects.aggregate(size=Sum(Length("document")))["size"] or 0
        for model in (SymbolContent, PageContent, Block, LinkDocument)
    )
    return own, total - own


def _first_readings(service: Service) -> list[float]:
    address = f"{service.processes.address}/api/v1/projects/measured/releases/1/files"
    listed = httpx.get(f"{address}?limit=500").json()["items"]
    step = max(len(listed) // _READ, 1)
    walls = []
    for row in sorted(listed, key=lambda r: -r["lines"])[:5] + listed[::step]:
        started = time.perf_counter()
        httpx.get(f"{address}/{row['file']}", timeout=60).raise_for_status()
        walls.append(time.perf_counter() - started)
    return walls
