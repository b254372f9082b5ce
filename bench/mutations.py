"""Mutated bundles, archives, sources, descriptions and markup, through the real upload."""

from __future__ import annotations

import random
import shutil
import tempfile
import time
import zipfile
from collections import Counter
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from itertools import islice
from pathlib import Path

import httpx
from msgspec import MsgspecError
from tests.support.hostile import hostile_bundle, payloads
from tests.support.hostiletexts import UNITS

from bench.measures import Row
from bench.supervised import Supervised, insist, last_state
from zarbek.core.errors import MaterialError
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.sources.source_text import FALLS

DEMO = Path(__file__).resolve().parent.parent / "demo" / "projects"
#: Bundles whose bytes are mutated; files that are mutated and gathered, and how many of them go into one bundle.
BUNDLES, FILES, FILES_A_BUNDLE = 40_000, 60_000, 200
#: Of which the files are releases.
PROJECTS = 10
SENDERS = 4
_FAULT = "gathering ended with"
_SEED = 17
_METHODS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2)


def measure_mutations(portal: Supervised) -> Iterator[Row]:
    """Mutations of bundles are uploaded; mutations of files are gathered, published and read."""
    workers = {pid for pid, command in portal.processes().items() if "mariadbd" not in command}
    with tempfile.TemporaryDirectory() as name:
        yield from _bundles(portal, Path(name))
        yield from _files(portal, Path(name))
    lost = len(workers - set(portal.processes()))
    yield "processes of the portal that ended meanwhile", str(lost), f"the largest had {portal.peak_mib()} MiB"
    left = portal.left_behind()
    yield "left of them beside what was accepted", f"{len(left)} files", ", ".join(p.name for p in left[:3])
    faults = portal.check()
    yield "faults of what is kept", str(len(faults)), "; ".join(faults[:3])


def _bundles(portal: Supervised, folder: Path) -> list[Row]:
    seeds = [hostile_bundle(folder, "hostile", "1.0", payloads("hostile", "http://127.0.0.1:1")[:12]).read_bytes()]
    for project in sorted(p for p in DEMO.iterdir()):
        source = min(p for p in project.iterdir() if p.is_dir())
        options = GatherOptions(slug=project.name, version="1.0", use_cache=False)
        seeds.append(gather(source, folder / "seed.bundle", options).path.read_bytes())

    def send(numbers: range) -> Counter[int]:
        chance, seen = random.Random(_SEED + numbers.start), Counter[int]()
        with _http(portal) as http:
            for number in numbers:
                query = {"project": f"h{number % 7}", "version": str(number), "dry": str(number % 9 > 0).lower()}
                data = _mutated_bundle(chance.choice(seeds), chance)
                seen[http.post("/api/v1/runs", params=query, content=data).status_code] += 1
        return seen

    started = time.perf_counter()
    seen = _shared_out(send, BUNDLES)
    took = time.perf_counter() - started
    _wait_for_runs(portal)
    told = ", ".join(f"{count:,} × {status}" for status, count in sorted(seen.items()))
    faults = sum(count for status, count in seen.items() if status >= 500)
    figure = f"{faults} answers of 5xx"
    return [(f"{BUNDLES:,} mutated bundles uploaded", figure, f"{told}; {took / BUNDLES * 1000 * SENDERS:.0f} ms each")]


def _files(portal: Supervised, folder: Path) -> list[Row]:
    """Files of every language and format, a few mutations each, gathered and published by hundreds, then read."""
    known = [p for p in sorted(DEMO.rglob("*")) if p.is_file() and p.stat().st_size and not p.name.startswith(".")]
    outcomes: Counter[str] = Counter()

    def publish(numbers: range) -> Counter[str]:
        seen: Counter[str] = Counter()
        for number in numbers:
            chance = random.Random(_SEED * 1000 + number)
            place = folder / f"m{number}"
            for at in range(FILES_A_BUNDLE):
                file = chance.choice(known)
                target = place / "source" / f"d{at}" / file.name
                target.parent.mkdir(parents=True)
                target.write_bytes(_mutated_text(file.read_bytes(), chance))
            seen += _publish_and_read(portal, place, f"m{number % PROJECTS}", f"1.{number}")
            shutil.rmtree(place)
        return seen

    outcomes = _shared_out(publish, FILES // FILES_A_BUNDLE)
    faults = sum(count for told, count in outcomes.items() if told.startswith(("5", _FAULT)))
    told = ", ".join(f"{count:,} × {what}" for what, count in outcomes.most_common())
    return [(f"{FILES:,} mutated files gathered, published and read", f"{faults} faults", told)]


def _publish_and_read(portal: Supervised, place: Path, slug: str, version: str) -> Counter[str]:
    options = GatherOptions(slug=slug, version=version, use_cache=False)
    try:
        bundle = gather(place / "source", place / "b.bundle", options).path
    except MaterialError:
        return Counter({"not gathered": 1})
    except (*FALLS, MsgspecError, OSError, AssertionError) as error:
        return Counter({f"{_FAULT} {type(error).__name__} {error}"[:160]: 1})
    with _http(portal) as http:
        answer = http.post("/api/v1/runs", content=bundle.read_bytes())
        if answer.status_code not in (200, 202):
            return Counter({str(answer.status_code): 1})
        seen = Counter({f"run {last_state(portal, answer.json()['id'], 600)}": 1})
        for path in islice(_pages_of(portal, slug, version), 60):
            seen[f"{http.get(path).status_code} read"] += 1
    return seen


def _pages_of(portal: Supervised, slug: str, version: str) -> Iterator[str]:
    """Addresses of its report, lists and pages; where it has none, nothing more."""
    base = f"/api/v1/projects/{slug}"
    release = f"{base}/releases/{version}"
    yield from (
        f"{base}/report",
        f"{base}/report?format=sarif",
        f"/api/v1/findings?project={slug}",
        f"{release}/contents",
    )
    with suppress(Exception):
        for symbol in insist(lambda: list(islice(portal.client.symbols(slug, version), 400)))[::8]:
            yield f"{release}/symbols/{httpx.URL('/').copy_with(path='/' + symbol.path).raw_path.decode()[1:]}"


def _wait_for_runs(portal: Supervised) -> None:
    for state in ("queued", "running"):
        for run in list(portal.client.runs(state=state)):
            last_state(portal, run.id, 600)


def _http(portal: Supervised) -> httpx.Client:
    headers = {"Authorization": f"Bearer {portal.token}", "Content-Type": "application/zip"}
    return httpx.Client(base_url=portal.url, timeout=120, headers=headers)


def _shared_out(work: Callable[[range], Counter], count: int) -> Counter:  # type: ignore[type-arg]
    """The work of so many numbers, by several at once."""
    parts = [range(n * count // SENDERS, (n + 1) * count // SENDERS) for n in range(SENDERS)]
    with ThreadPoolExecutor(SENDERS) as pool:
        return sum(pool.map(work, parts), Counter())


# Mutations --------------------------------------------------------------------------------


def _mutated_bundle(seed: bytes, chance: random.Random) -> bytes:
    kind, data = chance.randrange(6), bytearray(seed)
    if kind == 0:  # Bytes anywhere.
        for _ in range(chance.randrange(1, 40)):
            data[chance.randrange(len(data))] = chance.randrange(256)
    elif kind == 1:  # Cut short.
        del data[chance.randrange(len(data)) :]
    elif kind == 2:  # A piece twice, or gone.
        at, size = chance.randrange(len(data)), chance.randrange(1, 5000)
        data[at : at + size] = data[at : at + size] * chance.randrange(3)
    elif kind == 3:  # Bytes of the list of members.
        for _ in range(chance.randrange(1, 10)):
            data[-chance.randrange(1, min(1500, len(data)))] = chance.randrange(256)
    else:  # A member whose text is mutated, packed as it likes.
        return _repacked(seed, chance)
    return bytes(data)


def _repacked(seed: bytes, chance: random.Random) -> bytes:
    with tempfile.TemporaryFile() as before, tempfile.TemporaryFile() as after:
        before.write(seed)
        method = chance.choice(_METHODS)
        with zipfile.ZipFile(before) as old, zipfile.ZipFile(after, "w") as new:
            chosen = chance.choice(old.namelist())
            for info in old.infolist():
                text = old.read(info)
                changed = info.filename == chosen
                info.compress_type = method if changed and chance.random() < 0.3 else info.compress_type
                new.writestr(info, _mutated_text(text, chance) if changed else text)
        after.seek(0)
        return after.read()


def _mutated_text(text: bytes, chance: random.Random) -> bytes:
    """A few changes: bytes, pieces that go, come twice or change places, and units that some reader once fell over."""
    data = bytearray(text or b" ")
    for _ in range(chance.randrange(1, 6)):
        at, size = chance.randrange(len(data) or 1), chance.randrange(1, 200)
        piece = data[at : at + size]
        match chance.randrange(7):
            case 0:
                data[at : at + 1] = bytes([chance.randrange(256)])
            case 1:
                del data[at : at + size]
            case 2:
                data[at:at] = piece * chance.randrange(1, 5)
            case 3:
                to = chance.randrange(len(data) or 1)
                data[to:to] = piece
            case 4:
                data[at:at] = chance.choice(UNITS).encode() * chance.choice((1, 3, 50, 3000))
            case 5:
                data[at:at] = chance.choice((b"\xff\xfe", b"\x00", b"\xed\xa0\x80", "\u202e".encode(), b"\r", b"\x1b["))
            case _:
                del data[chance.randrange(len(data) or 1) :]
    return bytes(data)
