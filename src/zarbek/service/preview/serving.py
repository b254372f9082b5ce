"""The server of a preview: pages, and beside them what watches the tree."""

from __future__ import annotations

import socket
import threading
import time
from pathlib import Path

import uvicorn
from django.conf import settings

from zarbek.client import Portal
from zarbek.client.errors import PortalError
from zarbek.service.preview.actions import make_tables
from zarbek.service.preview.elsewhere import Elsewhere
from zarbek.service.preview.tree import WorkingTree
from zarbek.service.preview.watching import watch
from zarbek.service.web.server import BoundedHead


def _elsewhere() -> Elsewhere | None:
    """The portal that is named in the environment. Raises SystemExit for a token that none has given."""
    if not settings.ELSEWHERE_URL:
        return None
    try:
        return Elsewhere(Portal(settings.ELSEWHERE_URL, settings.ELSEWHERE_TOKEN))
    except PortalError as error:
        raise SystemExit(str(error)) from error


def serve(path: Path, listening: socket.socket) -> None:
    """Until told to stop. Raises SystemExit with a sentence where the tree cannot be shown at all."""
    make_tables()
    tree = WorkingTree(path, elsewhere=_elsewhere())
    shown = tree.show(time.monotonic())
    if not shown.version:
        raise SystemExit(shown.problem)
    address = f"http://127.0.0.1:{listening.getsockname()[1]}"
    print(f"{shown.project} stands at {address}/projects/{shown.project}", flush=True)
    threading.Thread(target=watch, args=(tree,), name="watch the tree", daemon=True).start()
    uvicorn.run(
        "zarbek.service.web.asgi:application", fd=listening.fileno(), http=BoundedHead, loop="uvloop",
        log_level="warning", access_log=False, server_header=False, lifespan="off", ws="none",
        timeout_graceful_shutdown=1,
    )  # fmt: skip
