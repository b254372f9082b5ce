"""The service behind a server that gives a slow client no thread: heads and bodies are taken in
by an event loop, and a request is worked at only once it is here as a whole."""

from __future__ import annotations

import asyncio
import os
import tempfile
import threading
import time
from collections.abc import Awaitable, Callable, MutableMapping
from contextlib import suppress
from pathlib import Path
from typing import Any
from urllib.parse import quote_from_bytes

import msgspec
from a2wsgi import WSGIMiddleware
from django.conf import settings

from zarbek.core.writing.code_tokens import prepare_highlighting
from zarbek.service.common.asker import ask_as_nobody_by_default
from zarbek.service.common.collector import collect_rarely
from zarbek.service.common.storage import storage_problem
from zarbek.service.web.wsgi import application as wsgi

from zarbek.service.web.event_streams import RunStreams  # isort: skip  # The models must be ready first.

Scope = MutableMapping[str, Any]
Message = MutableMapping[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]

THREADS = 16
#: A body up to this stays in memory; a larger one lies in a file until it is worked at.
_IN_MEMORY = 2**20
_CHUNK = 2**20
#: A body must come at some pace: so many bytes a second after the first seconds.
_GRACE_S, _LEAST_PACE = 30.0, 1024
#: Of a body that is no upload.
MAX_BODY_BYTES = 4 * 2**20
_UPLOADS = ("/api/v1/runs",)
_ASCII = bytes(range(0x21, 0x7F))


class BodyRefused(Exception):
    """A body that is not taken in."""

    def __init__(self, status: int, code: str, title: str, detail: str) -> None:
        super().__init__(detail)
        self.status, self.code, self.title, self.detail = status, code, title, detail


class Buffered:
    """Takes a request in before the application sees it. What breaks off is dropped, with its file."""

    def __init__(self, app: Callable[[Scope, Receive, Send], Awaitable[None]]) -> None:
        self._app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Answer a request (ASGI, HTTP connection scope)."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        scope["query_string"] = quote_from_bytes(scope["query_string"], safe=_ASCII).encode()
        with tempfile.SpooledTemporaryFile(_IN_MEMORY, dir=_folder(), prefix="incoming-") as body:
            try:
                size = await _take_in(scope, receive, body)
            except BodyRefused as refused:
                await _refuse(send, refused)
                return
            if size < 0:
                return  # The client is gone.
            scope["headers"] = _measured(scope["headers"], size)
            body.seek(0)
            await self._app(scope, _replay(body, size), send)


async def _take_in(scope: Scope, receive: Receive, body: Any) -> int:
    """Bytes taken in; -1 where the client broke off. Raises BodyRefused."""
    limit = settings.MAX_UPLOAD_BYTES if scope["path"] in _UPLOADS else MAX_BODY_BYTES
    started, size, more = time.monotonic(), 0, True
    while more:
        try:
            message = await asyncio.wait_for(receive(), _GRACE_S)
        except TimeoutError as error:
            raise BodyRefused(408, "too-slow", "The request came too slowly", "Nothing came for a while.") from error
        if message["type"] == "http.disconnect":
            return -1
        size += len(message.get("body", b""))
        more = message.get("more_body", False)
        if size > limit:
            told = f"At most {limit // 2**20} MiB are taken here."
            raise BodyRefused(413, "too-large", "The body is too large", told)
        passed = time.monotonic() - started
        if passed > _GRACE_S and size < _LEAST_PACE * passed:
            raise BodyRefused(408, "too-slow", "The request came too slowly", "Send it at a better pace.")
        await _write(body, message.get("body", b""))
    declared = dict(scope["headers"]).get(b"content-length", b"")
    if declared.isdigit() and int(declared) != size:
        raise BodyRefused(400, "cut-short", "The body ended early", f"{size} of {int(declared)} bytes came.")
    return size


async def _write(body: Any, data: bytes) -> None:
    try:
        if len(data) > 65_536:
            await asyncio.to_thread(body.write, data)
        else:
            body.write(data)
    except OSError as error:
        problem = storage_problem(error)
        if problem is None:
            raise
        raise BodyRefused(problem.status, problem.code, problem.title, problem.detail) from error


def _folder() -> str | None:
    """Where bodies wait: beside what is kept, as far as that can be written."""
    folder = Path(settings.MEDIA_ROOT, "incoming")
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
    return str(folder) if os.access(folder, os.W_OK) else None


def _measured(headers: list[tuple[bytes, bytes]], size: int) -> list[tuple[bytes, bytes]]:
    """With the length that the body has, also where it came in chunks."""
    kept = [(n, v) for n, v in headers if n not in (b"content-length", b"transfer-encoding")]
    return [*kept, (b"content-length", str(size).encode())] if size else kept


def _replay(body: Any, size: int) -> Receive:
    left = size

    async def receive() -> Message:
        nonlocal left
        data = body.read(_CHUNK)
        left -= len(data)
        return {"type": "http.request", "body": data, "more_body": left > 0}

    return receive


async def _refuse(send: Send, refused: BodyRefused) -> None:
    body = msgspec.json.encode({
        "type": f"/problems/{refused.code}", "title": refused.title, "status": refused.status, "detail": refused.detail,
        "code": refused.code,
    })  # fmt: skip
    headers = [(b"content-type", b"application/problem+json"), (b"content-length", str(len(body)).encode()),
               (b"connection", b"close"), (b"x-content-type-options", b"nosniff")]  # fmt: skip
    await send({"type": "http.response.start", "status": refused.status, "headers": headers})
    await send({"type": "http.response.body", "body": body})


ask_as_nobody_by_default()
collect_rarely()
threading.Thread(target=prepare_highlighting, name="prepare highlighting", daemon=True).start()
application = RunStreams(Buffered(WSGIMiddleware(wsgi, workers=THREADS, send_queue_size=64)))
