"""Health checks that tell the truth."""

from __future__ import annotations

import shutil
from collections.abc import Callable

import msgspec
from django.conf import settings
from django.db import Error, connection
from django.http import HttpRequest, HttpResponse
from prometheus_client import CONTENT_TYPE_LATEST, generate_latest

from zarbek.service.publishing.models import Run
from zarbek.service.search.engine import get_index

MIN_FREE_BYTES = 200 * 2**20


def live(request: HttpRequest) -> HttpResponse:
    return HttpResponse(b'{"status":"live"}', content_type="application/json")


def ready(request: HttpRequest) -> HttpResponse:
    """200 when everything that publishing and reading need answers, else 503 with what does not."""
    checks = {name: _outcome(check) for name, check in _CHECKS.items()}
    is_ready = all(check["ok"] for check in checks.values())
    body = msgspec.json.encode({"status": "ready" if is_ready else "not ready", "checks": checks})
    return HttpResponse(body, status=200 if is_ready else 503, content_type="application/json")


def metrics(request: HttpRequest) -> HttpResponse:
    return HttpResponse(generate_latest(), content_type=CONTENT_TYPE_LATEST)


def _outcome(check: Callable[[], str]) -> dict[str, object]:
    try:
        return {"ok": True, "detail": check()}
    except (Error, OSError, ValueError) as error:
        return {"ok": False, "detail": f"{type(error).__name__}: {error}"}


def _database() -> str:
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    return "answers"


def _queue() -> str:
    waiting = Run.objects.filter(state="queued").count()
    running = Run.objects.filter(state="running").count()
    return f"{waiting} waiting, {running} running"


def _index() -> str:
    return f"{get_index().count()} documents"


def _disk() -> str:
    free = shutil.disk_usage(settings.HOME).free
    if free < MIN_FREE_BYTES:
        raise OSError(f"only {free // 2**20} MiB free")
    return f"{free // 2**20} MiB free"


_CHECKS = {"database": _database, "queue": _queue, "index": _index, "disk": _disk}
