"""Progress of runs as Server-Sent Events (HTML standard, section 9.2), for as many readers as there
are: one look at the database a process feeds them all, and none of them holds a thread."""

from __future__ import annotations

import asyncio
import json
import re
from collections.abc import Awaitable, Callable, MutableMapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from dataclasses import dataclass, field
from typing import Any

import msgspec
from django.db import DatabaseError, close_old_connections
from rest_framework.exceptions import APIException

from zarbek.service.accounts.authentication import asker_of_scope
from zarbek.service.common.asker import PORTAL, asking
from zarbek.service.common.problems import Problem
from zarbek.service.publishing.models import LogLine, Run
from zarbek.service.publishing.run_data import run_view

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]

LOOK_S = 0.3
#: A word now and then, so that whoever stands between does not take the silence for the end.
KEEP_ALIVE_S = 15.0
_ADDRESS = re.compile(r"/api/v1/runs/([0-9]{1,18})/events")
_HEADERS = [
    (b"content-type", b"text/event-stream"), (b"cache-control", b"no-cache"), (b"x-accel-buffering", b"no"),
    (b"x-content-type-options", b"nosniff"), (b"content-security-policy", b"default-src 'none'; sandbox"),
]  # fmt: skip


@dataclass(slots=True)
class Feed:
    """What a run has said since its first reader came. readers: how many there are now."""

    events: list[bytes] = field(default_factory=list)
    state: bytes = b""
    last_line: int = 0
    is_over: bool = False
    readers: int = 0
    changed: asyncio.Event = field(default_factory=asyncio.Event)

    def add(self, run: Run | None, lines: list[LogLine]) -> None:
        """Take what a run has told since, as events (HTML Standard, Server-sent events)."""
        before = len(self.events)
        for line in lines:
            self.last_line = line.pk
            text = json.dumps({"at": line.at.isoformat(), "level": line.level, "text": line.text})
            self.events.append(f"event: log\ndata: {text}\n\n".encode())
        state = msgspec.json.encode(run_view(run, for_all=True)) if run is not None else b""
        if state and state != self.state:
            self.state = state
            self.events.append(b"event: run\ndata: " + state + b"\n\n")
        self.is_over = run is None or run.state in ("done", "failed")
        if len(self.events) != before or self.is_over:
            self.changed.set()
            self.changed = asyncio.Event()


class RunStreams:
    """Answers requests for the events of runs; every other request goes on to the application."""

    def __init__(self, app: Callable[[Scope, Receive, Send], Awaitable[None]]) -> None:
        self._app = app
        self._feeds: dict[int, Feed] = {}
        self._looking: asyncio.Task[None] | None = None
        self._thread = ThreadPoolExecutor(1, thread_name_prefix="streams")

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request for events itself, and leave any other to the application (ASGI)."""
        match = _ADDRESS.fullmatch(scope["path"]) if scope["type"] == "http" else None
        if match is None or scope["method"] != "GET":
            await self._app(scope, receive, send)
            return
        run_id = int(match[1])
        if not await self._in_database(lambda: _may_follow(scope, run_id)):
            await self._app(scope, receive, send)  # It says so in its own words.
            return
        await send({"type": "http.response.start", "status": 200, "headers": _HEADERS})
        feed = self._feeds.setdefault(run_id, Feed())
        feed.readers += 1
        if self._looking is None or self._looking.done():
            self._looking = asyncio.create_task(self._look())
        try:
            await _tell(feed, receive, send)
        finally:
            feed.readers -= 1
            if not feed.readers:
                self._feeds.pop(run_id, None)

    async def _look(self) -> None:
        """While anybody reads: what is new of all runs that are read about, in two queries."""
        while self._feeds:
            wanted = {run_id: feed.last_line for run_id, feed in self._feeds.items() if not feed.is_over}
            with suppress(DatabaseError):  # It may come back; readers wait.
                for run_id, (run, lines) in (await self._in_database(lambda w=wanted: _news(w))).items():
                    if run_id in self._feeds:
                        self._feeds[run_id].add(run, lines)
            await asyncio.sleep(LOOK_S)

    async def _in_database(self, work: Callable[[], Any]) -> Any:
        def run() -> Any:
            close_old_connections()
            return work()

        return await asyncio.get_running_loop().run_in_executor(self._thread, run)


def _may_follow(scope: Scope, run_id: int) -> bool:
    """Whether the run is there for whoever asks. What is wrong with a request is for the application to say."""
    try:
        with asking(asker_of_scope(scope)):
            return bool(Run.objects.filter(pk=run_id).exists())
    except (Problem, APIException):
        return False


def _news(wanted: dict[int, int]) -> dict[int, tuple[Run | None, list[LogLine]]]:
    """wanted: run to the last line that is known of it; whoever reads of a run was let in before."""
    if not wanted:
        return {}
    with asking(PORTAL):
        return _read_news(wanted)


def _read_news(wanted: dict[int, int]) -> dict[int, tuple[Run | None, list[LogLine]]]:
    runs = {run.pk: run for run in Run.objects.filter(pk__in=wanted).defer("report")}
    found: dict[int, tuple[Run | None, list[LogLine]]] = {run_id: (runs.get(run_id), []) for run_id in wanted}
    for line in LogLine.objects.filter(run_id__in=wanted, pk__gt=min(wanted.values())).order_by("pk"):
        if line.pk > wanted[line.run_id]:
            found[line.run_id][1].append(line)
    return found


async def _tell(feed: Feed, receive: Receive, send: Send) -> None:
    """Everything that a feed has and gets, until the run or its reader ends."""
    gone = asyncio.create_task(_until_gone(receive))
    told = 0
    try:
        while not gone.done():
            changed = feed.changed
            if told < len(feed.events):
                body = b"".join(feed.events[told:])
                told = len(feed.events)
                await send({"type": "http.response.body", "body": body, "more_body": True})
                continue
            if feed.is_over:
                await send({"type": "http.response.body", "body": b""})
                return
            waiting = asyncio.create_task(changed.wait())
            done, _ = await asyncio.wait({waiting, gone}, timeout=KEEP_ALIVE_S, return_when=asyncio.FIRST_COMPLETED)
            waiting.cancel()
            if not done:
                await send({"type": "http.response.body", "body": b": still here\n\n", "more_body": True})
    finally:
        gone.cancel()


async def _until_gone(receive: Receive) -> None:
    while (await receive())["type"] != "http.disconnect":
        pass
