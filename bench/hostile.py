"""What a portal withstands, measured on a portal of its own: texts without end, slow clients, mutated uploads."""

from __future__ import annotations

import socket
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from tests.support.hostiletexts import FRAMES, UNITS, hostile_source

from bench.measures import Row, percentile
from bench.mutations import measure_mutations
from bench.supervised import Supervised
from zarbek.core.errors import UnreadableText
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import language_of, read_source
from zarbek.core.sources.source_text import FALLS

ROOT = Path(__file__).resolve().parent.parent
SLOW_CLIENTS = 40
TEXT_SIZE = 90_000
_SEED = 17


def measure_hostile() -> Iterator[Row]:
    """What hostile texts and slow clients cost, and what mutated uploads do."""
    yield from _texts()
    with Supervised() as portal:
        yield from _slow_clients(portal)
        yield from measure_mutations(portal)


# Slow clients -----------------------------------------------------------------------------


def _slow_clients(portal: Supervised) -> list[Row]:
    quiet = portal.readings()
    port = int(portal.url.rpartition(":")[2])
    head = b"GET /api/v1/projects HTTP/1.1\r\nHost: 127.0.0.1\r\nX-Slow: "
    body = b"POST /api/v1/runs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/zip\r\nContent-Length: 900000\r\n\r\nPK"
    wires = []
    for opening in (head, body):
        for _ in range(SLOW_CLIENTS):
            wire = socket.create_connection(("127.0.0.1", port), timeout=10)
            wire.sendall(opening)
            wires.append(wire)
    busy = portal.readings()
    for wire in wires:
        wire.close()
    (quiet50, quiet99), (busy50, busy99) = ([percentile(t, share) for share in (0.5, 0.99)] for t in (quiet, busy))
    return [(f"reading beside {SLOW_CLIENTS} slow heads and {SLOW_CLIENTS} slow bodies / reading alone",
             f"p50 {busy50 / quiet50:.2f} ×, p99 {busy99 / quiet99:.2f} ×", f"p99 {busy99 * 1000:.0f} ms")]  # fmt: skip


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
