"""What happened lately, for the home page."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.conf import settings
from django.db.models import Count
from django.utils import timezone

from zarbek.service.catalog.models import Project
from zarbek.service.findings.models import ALIVE, FindingRecord, HealthPoint
from zarbek.service.publishing.models import Run


def get_today() -> dict[str, Any]:
    """Published lately, whose turn it is, what runs, and the trend."""
    points = _latest_points()
    alive = FindingRecord.objects.filter(state__in=ALIVE)
    return {
        "name": settings.PORTAL_NAME,
        "references": sum(p.total for p in points.values()),
        "dangling": sum(p.dangling for p in points.values()),
        "stale": sum(p.stale for p in points.values()),
        "new_dangling": alive.filter(state="new", rule__startswith="dangling/").exclude(severity="note").count(),
        "projects": Project.objects.filter(releases__is_live=True).distinct().count(),
        "published": _published(),
        "turns": _turns(),
        "running": list(
            Run.objects.filter(state__in=("queued", "running")).values(
                "id", "project", "version", "stage", "done", "total", "state"
            )[:5]
        ),
        "trend": _trend(),
    }


def _latest_points() -> dict[int, HealthPoint]:
    found: dict[int, HealthPoint] = {}
    for point in HealthPoint.objects.order_by("run", "pk"):
        found[point.project_id] = point
    return found


def _published() -> list[dict[str, Any]]:
    runs = Run.objects.filter(state="done", is_dry=False).defer("report").order_by("-pk")[:40]
    newest: dict[str, Run] = {}
    for run in runs:
        newest.setdefault(run.project, run)
    return [
        {"run": r.pk, "project": r.project, "version": r.version, "at": r.finished_at, "counts": r.counts}
        for r in newest.values()
    ]


def _turns() -> list[dict[str, Any]]:
    """Open findings by owner, the most first; projects without an owner are nobody's."""
    rows = (
        FindingRecord.objects.filter(state__in=ALIVE, waiver=None)
        .exclude(severity="note")
        .values("owner", "project__slug", "rule")
        .annotate(count=Count("pk"))
    )
    owners: dict[str, dict[str, Any]] = {}
    for row in rows:
        owner = owners.setdefault(
            row["owner"], {"owner": row["owner"], "dangling": 0, "stale": 0, "text": 0, "projects": set()}
        )
        family = row["rule"].partition("/")[0]
        owner[family] = owner.get(family, 0) + row["count"]
        owner["projects"].add(row["project__slug"])
    found = [{**o, "projects": sorted(o["projects"])} for o in owners.values()]
    return sorted(found, key=lambda o: (not o["owner"], -o["dangling"], -o["stale"], o["owner"]))


def _trend(days: int = 14) -> list[dict[str, Any]]:
    """Dangling references at the end of each of the last days that the portal has lived."""
    today = timezone.now().date()
    points = list(HealthPoint.objects.order_by("at", "pk"))
    found = []
    for back in range(days - 1, -1, -1):
        day = today - timedelta(days=back)
        last: dict[int, int] = {p.project_id: p.dangling for p in points if p.at.date() <= day}
        if last:
            found.append({"day": day.isoformat(), "dangling": sum(last.values())})
    return found
