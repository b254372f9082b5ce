"""How references and findings of a project stand after each of its runs, and at the end of each day."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta

from django.utils import timezone

from zarbek.core.findings.report import Counted
from zarbek.service.catalog.models import Project
from zarbek.service.findings.models import HealthDay, HealthPoint
from zarbek.service.findings.queries import alive


def keep_point(project: Project, run: int, counted: Counted, new: int, fixed: int) -> None:
    """A run's point of the trend: its references, the findings that stand, and those that it brought and mended, beside
    what the point counts of them already. The caller has the project locked.

    run: 0 for what no run brought about, which is a point of its own each time.
    """
    point = HealthPoint.objects.filter(project=project, run=run).first() if run else None
    point = point or HealthPoint(project=project, run=run or None)
    days = {point.at.date()} if point.at else set()
    point.at = timezone.now()
    point.total, point.dangling, point.stale = counted.total, counted.dangling, counted.stale
    _count(point, new, fixed)
    for day in days | {point.at.date()}:
        _roll_up(project, day)


def add_point(project: Project, new: int, fixed: int) -> None:
    """A point of the trend for what no run brought about: the latest one counts it too."""
    point = HealthPoint.objects.filter(project=project).order_by("-at", "-pk").first()
    if point is not None:
        _count(point, new, fixed)
        _roll_up(project, point.at.date())


def _count(point: HealthPoint, new: int, fixed: int) -> None:
    point.open, point.new, point.fixed = _standing(point.project), point.new + new, point.fixed + fixed
    point.save()


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
