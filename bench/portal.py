"""Measures of the running service: storing, search and pages."""

from __future__ import annotations

import os
import random
import statistics
import sys
import tempfile
import time
from collections import Counter
from pathlib import Path

import httpx

from bench.corpora import HOME, corpus
from bench.measures import Row, cpu_s, spent
from zarbek.client import Portal
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.linking.index import MODULE_KINDS
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.material.bundle_file import BundleReader

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tools"))


class Service:
    """A portal of its own for one measure."""

    def __enter__(self) -> Service:
        from supervise import Portal as Processes

        self.folder = tempfile.TemporaryDirectory(prefix="zarbek-bench-")
        home = Path(self.folder.name)
        home.chmod(0o755)
        os.environ.pop("ZARBEK_DB_PORT", None)
        self.processes = Processes(home / "home", "8765")
        self.processes.start()
        self.client = Portal(self.processes.address, (home / "home/admin-token").read_text().strip())
        return self

    def __exit__(self, *_: object) -> None:
        self.processes.stop()
        self.folder.cleanup()

    def publish(self, bundle: Path) -> float:
        """Wall seconds of one publish, from upload to report."""
        started = time.perf_counter()
        run = self.client.publish(bundle)
        for _ in self.client.watch(run.id):
            pass
        return time.perf_counter() - started


def measure_publish(name: str) -> list[Row]:
    """A publish against gathering alone."""
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        out = Path(folder, "b.bundle")
        manifest = gather(corpus(name), out, GatherOptions(slug=name, version="1", use_cache=False)).manifest
        wall = service.publish(out)
        gather(corpus(name), out, GatherOptions(slug=name, version="2", use_cache=False))
        again = service.publish(out)
        rows = [
            (f"publish {name}, {manifest.counts['symbols']:,} symbols", f"{wall:.1f} s", "from upload to report"),
            (
                f"publish {name} again as the next version, unchanged",
                f"{again:.1f} s",
                f"{100 * again / wall:.0f} % of the first",
            ),
        ]
        rows.append(("memory of the worker at its highest", f"{_peak_mib(service):,.0f} MiB", "after both"))
        return rows + _search(service) + _pages(service, name)


def measure_portals_part(name: str) -> list[Row]:
    """From upload to report against gathering the same source with a cold cache, in wall time."""
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        out = Path(folder, "b.bundle")
        options = GatherOptions(slug="measured", version="1", use_cache=False)
        _, gathering = spent(lambda: gather(corpus(name), out, options))
        publishing = service.publish(out)
    ratio = publishing / gathering
    return [(f"{name}, upload to report / gather", f"{ratio:.2f}", f"{publishing:.1f} s against {gathering:.1f} s")]


def _peak_mib(service: Service) -> float:
    """Of the largest of the processes that take publishes from the queue."""
    worker = service.processes.find("the worker").pid
    children = Path(f"/proc/{worker}/task/{worker}/children").read_text().split()
    publishers = [c for c in children if b"default" in Path(f"/proc/{c}/cmdline").read_bytes()]
    lines = (line for c in publishers for line in Path(f"/proc/{c}/status").read_text().splitlines())
    return max(int(line.split()[1]) for line in lines if line.startswith("VmHWM")) / 1024


def measure_store(name: str) -> list[Row]:
    """Storing a bundle against the ORM's own bulk_create of the same rows, in CPU of this process."""
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        os.environ |= {k: v for k, v in service.processes.environment.items() if k.startswith(("ZARBEK", "DJANGO"))}
        import django

        django.setup()
        from zarbek.service.catalog.models import Project, Release
        from zarbek.service.content.actions import store_release
        from zarbek.service.content.models import Block, PageContent, SymbolContent

        out = Path(folder, "b.bundle")
        gather(corpus(name), out, GatherOptions(slug=name, version="1", use_cache=False))
        project, other = (Project.objects.create(slug=slug, title=slug) for slug in ("one", "two"))
        release = Release(project=project, version="1")
        with BundleReader(out) as bundle:
            stored, _ = spent(lambda: store_release(release, bundle, progress=lambda _done, _total: None))
        models = (SymbolContent, Block, PageContent)
        before = sum(m.objects.count() for m in models)
        rows = {m: list(m.objects.filter(project=project)) for m in models}

        def again() -> None:
            for model, found in rows.items():
                for row in found:
                    row.pk, row.project = None, other
                model.objects.bulk_create(found, batch_size=500)

        alone, _ = spent(again)
        with BundleReader(out) as bundle:
            store_release(release, bundle, progress=lambda _done, _total: None)
        written = sum(m.objects.count() for m in models) - 2 * before
    return [
        (
            f"storing {name} / bulk_create of the same {before:,} rows",
            f"{stored / alone:.2f}",
            f"{stored:.1f} s against {alone:.1f} s CPU",
        ),
        (f"rows written by storing {name} unchanged again", str(written), ""),
    ]


def _search(service: Service) -> list[Row]:
    names = [
        hit.name
        for word in ("session", "table", "get", "value", "error", "column")
        for hit in service.client.search(word, limit=50)
    ]
    random.seed(7)
    queries = []
    for name in random.choices(names, k=300):
        queries += [name[: random.randint(2, len(name))], name, name[:-1] + "x", " ".join(name.split("_")[:2])]
    times = []
    with httpx.Client(base_url=service.processes.address) as http:
        for query in queries:
            started = time.perf_counter()
            http.get("/api/v1/search", params={"q": query, "limit": 8}).raise_for_status()
            times.append((time.perf_counter() - started) * 1000)
    cuts = statistics.quantiles(times, n=100)
    return [
        (
            "search through HTTP, p50 / p99",
            f"{cuts[49]:.1f} / {cuts[98]:.1f} ms",
            f"{len(queries)} queries, {len(set(queries))} different",
        )
    ]


def _pages(service: Service, name: str) -> list[Row]:
    symbols = service.client.search("session", limit=20) or service.client.search("error", limit=20)
    with httpx.Client(base_url=service.processes.address) as http:
        page = _rate(http, [f"/api/v1/projects/{name}/releases/1/symbols/{hit.path}" for hit in symbols])
        empty = _rate(http, ["/health/live"])
    return [
        (
            "symbol page through the API / an empty view",
            f"{page / empty:.2f}",
            f"{page:.0f} against {empty:.0f} a second, one connection",
        )
    ]


def measure_readings(name: str) -> list[Row]:
    """The first reading of the pages with the most to show: types with the most members, and modules."""
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        out = Path(folder, "b.bundle")
        gather(corpus(name), out, GatherOptions(slug="first", version="1", use_cache=False))
        with BundleReader(out) as bundle:
            symbols = [s for s in bundle.symbols() if s.visibility == "public"]
        sizes = Counter(s.parent for s in symbols)
        kinds = {s.path: s.kind for s in symbols}
        types = [path for path, _ in sizes.most_common() if kinds.get(path) in TYPE_KINDS][:40]
        modules = [path for path, _ in sizes.most_common() if kinds.get(path) in MODULE_KINDS][:10]
        service.publish(out)
        times: list[float] = []
        with httpx.Client(base_url=service.processes.address, timeout=60) as http:
            for path in [*types, *modules]:
                started = time.perf_counter()
                http.get(f"/api/v1/projects/first/releases/1/symbols/{path}").raise_for_status()
                times.append((time.perf_counter() - started) * 1000)
    note = f"{len(types)} types of {len(symbols):,} symbols, {sizes[types[0]]} members at most; {len(modules)} modules"
    return [(f"first reading of {name}'s largest pages, median / slowest",
             f"{statistics.median(times):.0f} / {max(times):.0f} ms", note)]  # fmt: skip


def _rate(http: httpx.Client, paths: list[str], seconds: float = 4.0) -> float:
    for path in paths:
        http.get(path).raise_for_status()
    count, until = 0, time.perf_counter() + seconds
    while time.perf_counter() < until:
        http.get(paths[count % len(paths)])
        count += 1
    return count / seconds


def measure_index(documents: int = 1_000_000) -> list[Row]:
    """The engine alone on made-up names: build, and the same mix of queries."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
    import django

    django.setup()
    from zarbek.core.searching.engine_port import Document
    from zarbek.core.searching.query import parse_query
    from zarbek.service.search.engine import TantivyIndex

    random.seed(3)
    parts = [
        "find",
        "window",
        "tide",
        "berth",
        "duty",
        "roster",
        "load",
        "table",
        "height",
        "station",
        "crew",
        "merge",
        "plan",
        "sail",
        "port",
    ]
    folder = HOME / f"index-{documents}"
    index = TantivyIndex(folder)
    made = [f"{random.choice(parts)}_{random.choice(parts)}_{random.choice(parts)}{i % 997}" for i in range(documents)]
    started = cpu_s()
    if index.position() is None:
        documents_made = (
            Document(1, "p", "function", f"p.m{i % 999}.{n}", n, f"The {n.replace('_', ' ')} of it.")
            for i, n in enumerate(made)
        )
        index.rebuild([(1, documents_made)])
    build = cpu_s() - started
    times = []
    for name in random.choices(made, k=500):
        for query in (name[:3], name[:9], name, name[:-1] + "q", " ".join(name.split("_"))):
            begun = time.perf_counter()
            index.search(parse_query(query), [1], 8)
            times.append((time.perf_counter() - begun) * 1000)
    cuts = statistics.quantiles(times, n=100)
    return [
        (
            f"search over {documents:,} documents, engine alone, p50 / p99",
            f"{cuts[49]:.1f} / {cuts[98]:.1f} ms",
            f"built with {build:.0f} s CPU",
        )
    ]
