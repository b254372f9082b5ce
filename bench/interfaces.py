"""Interface descriptions: reading against parsing alone, checking examples, and the largest through the portal."""

from __future__ import annotations

import gc
import random
import shutil
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import quote

import httpx
import msgspec
import yaml

from bench.corpora import corpus
from bench.measures import Row, cpu_s
from bench.portal import Service
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.jsonschema.validation import SchemaSet
from zarbek.core.sources.interfaces.document_set import DocumentSet
from zarbek.core.sources.interfaces.documents import read_document
from zarbek.core.sources.interfaces.example_checks import check_examples
from zarbek.core.sources.interfaces.openapi import read_openapi
from zarbek.core.sources.interfaces.registry import read_interface
from zarbek.core.sources.languages.reading import SourceFile

#: Name of a row to (corpus, file).
DESCRIPTIONS = {
    "design files, 3.1, YAML": ("figma-api", "package/openapi/openapi.yaml"),
    "code hosting, 3.0, JSON": ("code-host-api", "package/generated/ghec.json"),
    "clusters, 2.0, JSON": ("many-apis", "package/api/kubernetes.io.json"),
    "office graph, 3.0, JSON": ("many-apis", "package/api/microsoft.com/graph.json"),
}
LARGE = ("code hosting, 3.0, JSON", "office graph, 3.0, JSON")
_PAGES = 80


def measure_interfaces() -> Iterator[Row]:
    """Reading large interface descriptions against parsing them only."""
    for name, (place, file) in DESCRIPTIONS.items():
        yield from _reading(name, corpus(place) / file)
    yield _examples(corpus("code-host-api") / "package/generated/ghec.json")
    for name in LARGE:
        place, file = DESCRIPTIONS[name]
        yield from _through_the_portal(name, corpus(place) / file)


def _timed(work: object) -> float:
    gc.collect()
    gc.disable()
    before = cpu_s()
    work()  # type: ignore[operator]
    after = cpu_s()
    gc.enable()
    return after - before


def _reading(name: str, path: Path) -> list[Row]:
    data = path.read_bytes()
    is_json = path.suffix == ".json"
    alone = _timed(lambda: msgspec.json.decode(data) if is_json else yaml.load(data, yaml.CSafeLoader))
    source = SourceFile(path.name, "openapi", "api", options={"entries": [f"{path.name}=api"]})
    whole = _timed(lambda: read_interface(data, source, lambda file: None))
    parser = "msgspec, which keeps no lines" if is_json else "libyaml's safe loader"
    size = f"{len(data) / 2**20:.1f} MiB"
    return [(f"read {name}, {size}", f"{whole:.2f} s", f"{whole / alone:.1f} × {parser} ({alone:.2f} s)")]


def _examples(path: Path) -> Row:
    library = DocumentSet(lambda file: None, {path.name: "api"})
    document = read_document(path.name, path.read_bytes())
    library.add(document)
    reading, draft = read_openapi(document, "api", library)
    schemas = SchemaSet({s.path: s.interface.schema for s in reading.symbols if s.interface and s.interface.schema})
    wall = _timed(lambda: check_examples(draft.examples, schemas))
    count = len(draft.examples)
    return (f"check {count:,} written examples", f"{count / wall:,.0f} a second", "schemas made ready included")


def _through_the_portal(name: str, path: Path) -> list[Row]:
    with Service() as service, tempfile.TemporaryDirectory() as folder:
        source = Path(folder, "source")
        source.mkdir()
        shutil.copy(path, source / f"openapi{path.suffix}")
        out = Path(folder, "b.bundle")
        started = time.perf_counter()
        counts = gather(source, out, GatherOptions(slug="big", version="1", use_cache=False)).manifest.counts
        gathered = time.perf_counter() - started
        published = service.publish(out)
        pages, searches = _look_around(service.processes.address)
    slow, large = max(pages, key=lambda p: p[0]), max(pages, key=lambda p: p[1])
    middle = sorted(p[0] for p in pages)[len(pages) // 2]
    return [
        (f"gather and publish {name}", f"{gathered:.1f} s + {published:.1f} s", f"{counts['symbols']:,} symbols"),
        (f"{len(pages)} pages of it, never asked for before", f"{1000 * middle:.0f} ms the middle one, {1000 * slow[0]:.0f} ms the slowest",
         f"{large[1] / 1000:.0f} kB the largest ({large[2]})"),
        ("searches in it", f"{1000 * max(searches):.0f} ms the slowest", f"of {len(searches)}"),
    ]  # fmt: skip


def _look_around(address: str) -> tuple[list[tuple[float, int, str]], list[float]]:
    base = "/api/v1/projects/big/releases/1"
    with httpx.Client(base_url=address, timeout=60) as http:
        paths: list[tuple[str, str]] = []
        link: str | None = f"{base}/symbols?limit=500"
        while link:
            found = http.get(link).json()
            paths += [(row["kind"], row["path"]) for row in found["items"]]
            link = found["next"]
        chosen = [p for p in paths if p[0] == "api"] + random.Random(7).sample(paths, min(_PAGES, len(paths)))
        pages = []
        for kind, path in chosen:
            started = time.perf_counter()
            answer = http.get(f"{base}/symbols/{quote(path)}")
            answer.raise_for_status()
            pages.append((time.perf_counter() - started, len(answer.content), kind))
        searches = []
        for words in ("get user", "POST /", "409", "name", "list members of a team", "updated_at"):
            started = time.perf_counter()
            http.get("/api/v1/search", params={"q": words, "project": "big"}).raise_for_status()
            searches.append(time.perf_counter() - started)
    return pages, searches
