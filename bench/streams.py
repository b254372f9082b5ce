"""Ten thousand pages that watch a run, and a portal that goes on answering."""

from __future__ import annotations

import asyncio
import os
import signal
import tempfile
import time
from collections.abc import Iterator
from pathlib import Path

from tests.support.sources import write_files

from bench.measures import Row, percentile
from bench.supervised import Supervised
from zarbek.core.gathering.gather import GatherOptions, gather

PAGES = 10_000
_OPENED_AT_ONCE = 200


def measure_streams() -> Iterator[Row]:
    """What a reading takes while so many pages watch a run, and when they hear of its end."""
    with Supervised() as portal, tempfile.TemporaryDirectory() as folder:
        yield from asyncio.run(_measure(portal, Path(folder)))


async def _measure(portal: Supervised, folder: Path) -> list[Row]:
    held = [pid for pid, command in portal.processes().items() if "take_jobs --queue default" in command]
    for pid in held:
        os.kill(pid, signal.SIGSTOP)  # The run waits until all pages are open.
    source = write_files(folder / "source", {"one.py": '"""A module."""\n'})
    bundle = gather(source, folder / "b.bundle", GatherOptions(slug="watched", version="1.0", use_cache=False)).path
    run = portal.client.publish(bundle).id
    quiet = await asyncio.to_thread(portal.readings)
    started = time.perf_counter()
    pages = await _open_pages(portal, run)
    opened = time.perf_counter() - started
    busy = await asyncio.to_thread(portal.readings)
    listening = [asyncio.create_task(_until_end(reader)) for reader, _ in pages]
    for pid in held:
        os.kill(pid, signal.SIGCONT)
    started = time.perf_counter()
    told = sum(await asyncio.gather(*listening))
    took = time.perf_counter() - started
    for _, writer in pages:
        writer.close()
    p50, p99 = ([percentile(times, share) * 1000 for times in (quiet, busy)] for share in (0.5, 0.99))
    return [
        (f"{PAGES:,} pages that watch a run", f"opened in {opened:.0f} s", f"the largest process has {portal.peak_mib()} MiB"),
        ("reading beside them / reading alone", f"p50 {p50[1] / p50[0]:.2f} ×, p99 {p99[1] / p99[0]:.2f} ×",
         f"p50 {p50[1]:.0f} ms against {p50[0]:.0f}, p99 {p99[1]:.0f} ms against {p99[0]:.0f}"),
        ("pages that were told the end of the run", f"{told:,}", f"{took:.1f} s after it was taken up"),
    ]  # fmt: skip


async def _open_pages(portal: Supervised, run: int) -> list[tuple[asyncio.StreamReader, asyncio.StreamWriter]]:
    port = int(portal.url.rpartition(":")[2])
    request = f"GET /api/v1/runs/{run}/events HTTP/1.1\r\nHost: 127.0.0.1\r\nAccept: text/event-stream\r\n\r\n".encode()

    async def open_one() -> tuple[asyncio.StreamReader, asyncio.StreamWriter]:
        reader, writer = await asyncio.open_connection("127.0.0.1", port)
        writer.write(request)
        head = await reader.readuntil(b"\r\n\r\n")
        if b" 200 " not in head.split(b"\r\n")[0]:
            raise RuntimeError(head.decode())
        return reader, writer

    found: list[tuple[asyncio.StreamReader, asyncio.StreamWriter]] = []
    while len(found) < PAGES:
        found += await asyncio.gather(*(open_one() for _ in range(_OPENED_AT_ONCE)))
    return found


async def _until_end(reader: asyncio.StreamReader) -> bool:
    """Whether the page was told that the run is done."""
    told = b""
    while chunk := await reader.read(65_536):
        told = (told + chunk)[-20_000:]
        if b"\r\n0\r\n\r\n" in told[-20:]:  # The last chunk (RFC 9112, section 7.1).
            break
    return b'"state":"done"' in told
