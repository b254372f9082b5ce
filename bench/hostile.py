"""What a portal withstands, measured on a portal of its own: hostile uploads, texts without end, slow
clients, and processes that are killed while it publishes."""

from __future__ import annotations

import json
import os
import random
import signal
import socket
import statistics
import subprocess
import sys
import tempfile
import time
import zipfile
from collections import Counter
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

import httpx
from tests.security.test_supervision import children_of
from tests.support.hostile import hostile_bundle, payloads, write_members
from tests.support.hostiletexts import FRAMES, UNITS, hostile_source

from bench.measures import Row
from zarbek.client import Portal, PortalError
from zarbek.core.errors import UnreadableText
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import language_of, read_source
from zarbek.core.sources.source_text import FALLS

ROOT = Path(__file__).resolve().parent.parent
UPLOADS, KILLS, SLOW_CLIENTS, READINGS = 1000, 40, 40, 300
TEXT_SIZE = 90_000
_SEED = 17


class Supervised:
    """A portal under its supervisor, as ``./run serve`` starts it."""

    def __enter__(self) -> Supervised:
        self.folder = tempfile.TemporaryDirectory(prefix="zarbek-bench-")
        os.chmod(self.folder.name, 0o755)
        self.home = Path(self.folder.name, "state")
        ports = [_free_port(), _free_port()]
        environment = {
            **os.environ,
            "ZARBEK_HOME": str(self.home),
            "ZARBEK_PORT": str(ports[0]),
            "ZARBEK_DB_PORT": str(ports[1]),
        }
        self.url = f"http://127.0.0.1:{ports[0]}"
        self.process = subprocess.Popen(
            [sys.executable, str(ROOT / "tools" / "supervise.py"), "serve"], env=environment, stdout=subprocess.PIPE,
            stderr=subprocess.DEVNULL, text=True, start_new_session=True,
        )  # fmt: skip
        assert self.process.stdout is not None
        self.process.stdout.readline()
        self.token = (self.home / "admin-token").read_text().strip()
        self.client = Portal(self.url, self.token)
        return self

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.wait(60)
        self.folder.cleanup()

    def peak_mib(self) -> int:
        """The largest memory that any process of the portal but the database has had."""
        peaks = [0]
        for pid, command in children_of(self.process.pid).items():
            with suppress(OSError, StopIteration):
                if "mariadbd" not in command:
                    status = Path(f"/proc/{pid}/status").read_text().splitlines()
                    peaks.append(int(next(line for line in status if line.startswith("VmHWM")).split()[1]) // 1024)
        return max(peaks)


def measure_hostile() -> Iterator[Row]:
    """What hostile texts, slow clients and killed processes cost."""
    yield from _texts()
    with Supervised() as portal, tempfile.TemporaryDirectory() as folder:
        yield from _slow_clients(portal)
        yield from _kills(portal, Path(folder))
        yield from _uploads(portal, Path(folder))


def _free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


# Uploads ----------------------------------------------------------------------------------


def _uploads(portal: Supervised, folder: Path) -> list[Row]:
    """Bundles broken in every way that comes to mind, through the real upload."""
    rng = random.Random(_SEED)
    texts = payloads("hostile", "http://127.0.0.1:1")
    seed = hostile_bundle(folder, "hostile", "1.0", texts).read_bytes()
    seen: Counter[int] = Counter()
    started = time.perf_counter()
    with httpx.Client(
        base_url=portal.url,
        timeout=60,
        headers={"Authorization": f"Bearer {portal.token}", "Content-Type": "application/zip"},
    ) as http:
        for number in range(UPLOADS):
            seen[
                http.post(
                    "/api/v1/runs",
                    params={"project": f"h{number % 7}", "version": str(number)},
                    content=_mutated(seed, rng),
                ).status_code
            ] += 1
    took = time.perf_counter() - started
    files = portal.home / "files"
    left = [p for p in files.rglob("*") if p.is_file() and ("upload-" in p.name or "incoming" in p.parts)]
    told = ", ".join(f"{count} × {status}" for status, count in sorted(seen.items()))
    faults = sum(count for status, count in seen.items() if status >= 500)
    return [
        (f"{UPLOADS:,} mutated bundles uploaded", f"{faults} faults", f"{told}; {took / UPLOADS * 1000:.0f} ms each"),
        (
            "left of them beside what was accepted",
            f"{len(left)} files",
            f"the largest process had {portal.peak_mib()} MiB",
        ),
    ]


def _mutated(seed: bytes, rng: random.Random) -> bytes:
    kind = rng.randrange(6)
    data = bytearray(seed)
    if kind == 0:  # Bytes anywhere.
        for _ in range(rng.randrange(1, 40)):
            data[rng.randrange(len(data))] = rng.randrange(256)
    elif kind == 1:  # Cut short.
        data = data[: rng.randrange(len(data))]
    elif kind == 2:  # A piece twice, or gone.
        at, size = rng.randrange(len(data)), rng.randrange(1, 5000)
        data[at : at + size] = data[at : at + size] * rng.randrange(3)
    elif kind == 3:  # Bytes of the list of members.
        for _ in range(rng.randrange(1, 10)):
            data[-rng.randrange(1, 1500)] = rng.randrange(256)
    else:  # Members whose lines are broken, packed as they like.
        method = rng.choice([zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2])
        path = write_members({"symbols.jsonl": _line(rng), "pages.jsonl": _line(rng)}, method, project="h", version="1")
        data = bytearray(path.read_bytes())
        path.unlink()
    return bytes(data)


def _line(rng: random.Random) -> bytes:
    sound = json.dumps({"path": "m", "name": "m", "kind": "module", "language": "python", "module": "m"}).encode()
    return rng.choice([
        sound, sound[: rng.randrange(len(sound))], b"[" * rng.randrange(1, 90_000), b'{"path":' * 30_000, b" " * 5_000_000, b'"\\ud800"',
        sound.replace(b'"m"', b'"' + b"a" * rng.randrange(9000) + b'"'), b'{"path":1}', bytes(rng.randrange(256) for _ in range(300)),
    ]) + b"\n"  # fmt: skip


# Slow clients -----------------------------------------------------------------------------


def _slow_clients(portal: Supervised) -> list[Row]:
    quiet = _readings(portal)
    port = int(portal.url.rpartition(":")[2])
    head = b"GET /api/v1/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: "
    body = b"POST /api/v1/runs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/zip\r\nContent-Length: 900000\r\n\r\nPK"
    wires = []
    for opening in (head, body):
        for _ in range(SLOW_CLIENTS):
            wire = socket.create_connection(("127.0.0.1", port), timeout=10)
            wire.sendall(opening)
            wires.append(wire)
    busy = _readings(portal)
    for wire in wires:
        wire.close()
    p50, p99 = (lambda times: statistics.median(times)), (lambda times: sorted(times)[int(len(times) * 0.99)])
    return [(f"reading beside {SLOW_CLIENTS} slow heads and {SLOW_CLIENTS} slow bodies / reading alone",
             f"p50 {p50(busy) / p50(quiet):.2f} ×, p99 {p99(busy) / p99(quiet):.2f} ×", f"p99 {p99(busy) * 1000:.0f} ms")]  # fmt: skip


def _readings(portal: Supervised) -> list[float]:
    times = []
    with httpx.Client(base_url=portal.url, timeout=30) as http:
        for _ in range(READINGS):
            started = time.perf_counter()
            http.get("/api/v1/projects").raise_for_status()
            times.append(time.perf_counter() - started)
    return times


# Kills ------------------------------------------------------------------------------------


def _kills(portal: Supervised, folder: Path) -> list[Row]:
    """Processes of a publishing portal are killed one after the other, whatever they are at."""
    rng = random.Random(_SEED)
    source = folder / "source"
    source.mkdir()
    for number in range(12):
        (source / f"m{number}.py").write_text(
            "\n".join(f'def f{n}():\n    """See :func:`m{(number + 1) % 12}.f{n}`."""' for n in range(150))
        )
    parts = ("take_jobs --queue default", "manage work", "web.server", "mariadbd")
    killed: Counter[str] = Counter()
    runs: dict[str, int] = {}
    for number in range(KILLS):
        version = f"1.{number}"
        bundle = gather(
            source, folder / "b.bundle", GatherOptions(slug="killed", version=version, use_cache=False)
        ).path
        runs[version] = _insist(lambda bundle=bundle: portal.client.publish(bundle).id)
        time.sleep(rng.random() * 1.5)
        part = rng.choices(parts, (6, 2, 2, 1))[0]
        found = [pid for pid, command in children_of(portal.process.pid).items() if part in command]
        if found:
            with suppress(ProcessLookupError):
                os.kill(rng.choice(found), signal.SIGKILL)
                killed[part.split()[-1]] += 1
    states = Counter(_last_state(portal, run) for run in runs.values())
    project = _insist(lambda: portal.client.project("killed"))
    half = [r.version for r in project.releases if r.symbols != 12 * 151]
    told = ", ".join(f"{count} × {name}" for name, count in killed.most_common())
    return [(f"{sum(killed.values())} kills while {KILLS} releases were published", f"{states['done']} done, {len(half)} half visible",
             f"{told}; {', '.join(f'{n} {s}' for s, n in states.items())}")]  # fmt: skip


def _insist(work, within_s: float = 90.0):  # type: ignore[no-untyped-def]
    """As a build that tries again would."""
    end = time.monotonic() + within_s
    while True:
        try:
            return work()
        except (PortalError, httpx.HTTPError):
            if time.monotonic() > end:
                raise
            time.sleep(0.5)


def _last_state(portal: Supervised, run: int) -> str:
    end = time.monotonic() + 180
    while time.monotonic() < end:
        state = _insist(lambda: portal.client.run(run).state)
        if state in ("done", "failed"):
            return str(state)
        time.sleep(0.3)
    return "unfinished"


# Texts ------------------------------------------------------------------------------------


def _texts() -> list[Row]:
    """The slowest of all texts without end, in a comment and in code, of each language."""
    worst: dict[str, tuple[float, str, int]] = {}
    for file, frames in FRAMES.items():
        for place, frame in enumerate(frames):
            for unit in UNITS:
                started = time.process_time()
                with suppress(UnreadableText, SyntaxError, *FALLS):
                    read_source(hostile_source(frame, unit, TEXT_SIZE), SourceFile(file, language_of(file), "a"))
                took = time.process_time() - started
                worst[file] = max(worst.get(file, (0.0, "", 0)), (took, unit, place))
    return [
        (f"{2 * len(UNITS)} texts of {TEXT_SIZE:,} characters in {language_of(file)}", f"{took:.1f} s at most", f"{unit!r} in {'code' if place else 'a comment'}")
        for file, (took, unit, place) in worst.items()
    ]  # fmt: skip
