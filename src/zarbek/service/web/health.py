"""Health checks that tell the truth."""

from __future__ import annotations

import shutil
import tempfile
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import msgspec
from django.conf import settings
from django.db import Error, connection
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from prometheus_client import CONTENT_TYPE_LATEST
from rest_framework.exceptions import APIException

from zarbek.service.accounts.authentication import asker_of_http
from zarbek.service.accounts.permissions import is_administrator
from zarbek.service.common.asker import PORTAL, asking
from zarbek.service.common.metrics import Gauge, write_metrics
from zarbek.service.common.problems import Problem
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.queries import queue_lengths, waiting_runs
from zarbek.service.search.engine import IndexUnavailable, get_index
from zarbek.service.search.queries import is_behind

MIN_FREE_BYTES = 200 * 2**20
STUCK_S = 900
INDEX_BEHIND_S = 300.0


def live(request: HttpRequest) -> HttpResponse:
    """That the process answers."""
    return HttpResponse(b'{"status":"live"}', content_type="application/json")


def ready(request: HttpRequest) -> HttpResponse:
    """200 when everything that publishing and reading need answers, else 503 with what does not; figures are for
    administrators, and for all where the settings say so."""
    with asking(PORTAL):
        checks = {name: _outcome(check) for name, check in _CHECKS.items()}
    is_ready = all(check["ok"] for check in checks.values())
    told: object = checks
    if not _may_see_figures(request):
        told = {name: {"ok": check["ok"]} for name, check in checks.items()}
    body = msgspec.json.encode({"status": "ready" if is_ready else "not ready", "checks": told})
    response = HttpResponse(body, status=200 if is_ready else 503, content_type="application/json")
    response._has_been_logged = True  # type: ignore[attr-defined]  # An answer, not an error of the service.
    return response


def metrics(request: HttpRequest) -> HttpResponse:
    """Figures in Prometheus's text format; for administrators, and for all where the settings say so."""
    if not _may_see_figures(request):
        told = b"Figures are for administrators: send a token of one, or set ZARBEK_OPEN_FIGURES to 1."
        return HttpResponse(told, status=401, content_type="text/plain", headers={"WWW-Authenticate": "Bearer"})
    with asking(PORTAL):
        return HttpResponse(write_metrics(*_GAUGES), content_type=CONTENT_TYPE_LATEST)


def _may_see_figures(request: HttpRequest) -> bool:
    """Figures count what is kept from some."""
    if settings.OPEN_FIGURES:
        return True
    try:
        return is_administrator(asker_of_http(request))
    except (Problem, APIException):
        return False


_GAUGES = (
    Gauge("zarbek_waiting_publishes", "Publish runs that wait.", (), lambda: {(): float(waiting_runs())}),
    Gauge("zarbek_queue_jobs", "Jobs in a queue, by state.", ("queue", "state"), queue_lengths),
)


def _outcome(check: Callable[[], str]) -> dict[str, object]:
    try:
        return {"ok": True, "detail": check()}
    except (Error, OSError, ValueError, IndexUnavailable) as error:
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
    if is_behind(INDEX_BEHIND_S):
        raise ValueError(f"releases wait to be found for more than {INDEX_BEHIND_S:g} s")
    return f"{get_index().count()} documents"


def _disk() -> str:
    """Room, and leave to write, in every folder that publishing needs."""
    told = []
    for name, folder in _FOLDERS.items():
        place = Path(folder())
        place.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=place) as probe:
            probe.write(b"0" * 4096)
            probe.flush()
        free = shutil.disk_usage(place).free
        if free < MIN_FREE_BYTES:
            raise OSError(f"{name}: only {free // 2**20} MiB free")
        told.append(f"{name}: {free // 2**20} MiB free")
    return ", ".join(told)


_FOLDERS: dict[str, Callable[[], str]] = {
    "files": lambda: str(settings.MEDIA_ROOT), "index": lambda: str(settings.SEARCH_INDEX),
    "work": lambda: str(settings.WORK_ROOT),
}  # fmt: skip


def _stuck() -> str:
    """No run is silent for longer than it may be, and none waits that nobody takes up."""
    limit = timezone.now() - timedelta(seconds=STUCK_S)
    stuck = Run.objects.filter(state="running", progress_at__lt=limit).count()
    waiting = Run.objects.filter(state="queued", queued_at__lt=limit).count()
    alive = Run.objects.filter(state="running", progress_at__gte=limit).exists()
    if stuck or (waiting and not alive):
        raise ValueError(f"{stuck} stuck, {waiting} waiting for {STUCK_S // 60} minutes with nobody at work")
    return "none"


_CHECKS = {"database": _database, "queue": _queue, "stuck runs": _stuck, "index": _index, "disk": _disk}
