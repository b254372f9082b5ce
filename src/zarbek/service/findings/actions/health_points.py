"""How references and findings of a project stand after each of its runs, and at the end of each day."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta

from django.utils import timezone

from zarbek.core.findings.report import Counted
from zarbek.service.catalog.models import Project, Release
from zarbek.service.findings.models import HealthDay, HealthPoint
from zarbek.service.findings.queries import alive


def keep_point(project: Project, run: int, counted: Counted, new: int, fixed: int) -> None:
    """A run's point of the trend: its references, the findings that stand, and those that it brought and mended.

    run: 0 for what no run brought about, which is a point of its own each time; else doing it again changes nothing.
    """
    values = {
        "at": timezone.now(), "total": counted.total, "dangling": counted.dangling, "stale": counted.stale,
        "open": _standing(project), "new": new, "fixed": fixed,
    }  # fmt: skip
    if not run:
        HealthPoint.objects.create(project=project, **values)
        _roll_up(project, values["at"].date())
        return
    before = HealthPoint.objects.filter(project=project, run=run).values_list("at", flat=True).first()
    point, _ = HealthPoint.objects.update_or_create(project=project, run=run, defaults=values)
    for day in {moment.date() for moment in (before, point.at) if moment is not None}:
        _roll_up(project, day)


def add_point(release: Release, new: int, fixed: int) -> None:
    """A point of the trend for what no run brought about: the latest one counts it too."""
    point = HealthPoint.objects.filter(project=release.project).order_by("-at", "-pk").first()
    if point is not None:
        point.open, point.new, point.fixed = _standing(release.project), point.new + new, point.fixed + fixed
        point.save(update_fields=["open", "new", "fixed"])
        _roll_up(release.project, point.at.date())


def _roll_up(project: Project, day: date) -> None:
    """Keep a day's points as one, for those who look at many days of many projects."""
    start = datetime.combine(day, time.min, tzinfo=UTC)
    rows = HealthPoint.objects.filter(project=project, at__gte=start, at__lt=start + timedelta(days=1))
    points = list(rows.order_by("at", "pk"))
    if not points:
        HealthDay.objects.filter(project=project, day=day).delete()
        return
    last = points[-1]
    values = {
        "total": last.total, "dangling": last.dangling, "stale": last.stale, "open": last.open,
        "new": sum(p.new for p in points), "fixed": sum(p.fixed for p in points),
    }  # fmt: skip
    HealthDay.objects.update_or_create(project=project, day=day, defaults=values)


def _standing(project: Project) -> int:
    return alive(project).exclude(severity="note").count()
