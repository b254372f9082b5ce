"""How references and findings came out over time, and between projects."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from datetime import UTC, date, datetime, time, timedelta

import msgspec
from django.utils import timezone

from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.findings.models import HealthPoint

#: Days up to which each run is a point of its own.
YOUNG_DAYS = 4


class TrendPoint(msgspec.Struct, frozen=True):
    """At one moment: references, and findings but notes that stand; new and fixed since the point before."""

    at: datetime
    total: int
    dangling: int
    stale: int
    open: int
    new: int
    fixed: int


class MapEdge(msgspec.Struct, frozen=True):
    """References of the newest release of one project into another. version: the one they mean."""

    source: str
    target: str
    version: str
    total: int
    dangling: int
    stale: int


class HealthView(msgspec.Struct):
    """References of a project after a run, and its findings: open since before, new, fixed."""

    run: int
    at: datetime
    total: int
    dangling: int
    stale: int
    open: int
    new: int
    fixed: int


def list_points(project: Project) -> list[HealthView]:
    """The health of a project after each of its runs, oldest first."""
    return [HealthView(**row) for row in project.health.order_by("run").values(*HealthView.__struct_fields__)]


def list_trend(days: int, owner: str = "", project: str = "") -> list[TrendPoint]:
    """Of the last days that the portal, a team or a project has lived, oldest first: a point a day,
    or one for each run while it is younger than a few days."""
    rows = HealthPoint.objects.order_by("at", "pk")
    if owner:
        rows = rows.filter(project__owner=owner)
    if project:
        rows = rows.filter(project__slug=project)
    points = list(rows)
    if not points:
        return []
    is_young = timezone.now() - points[0].at < timedelta(days=YOUNG_DAYS)
    last: dict[int, HealthPoint] = {}
    found = []
    for moment, group in [(p.at, [p]) for p in points] if is_young else _by_day(points):
        last.update({p.project_id: p for p in group})
        found.append(_point(moment, last, group))
    since = timezone.now() - timedelta(days=days)
    return [point for point in found if point.at >= since]


def _by_day(points: list[HealthPoint]) -> Iterator[tuple[datetime, list[HealthPoint]]]:
    """The end of every day up to now, with the points of that day."""
    by_day: dict[date, list[HealthPoint]] = defaultdict(list)
    for point in points:
        by_day[point.at.date()].append(point)
    now = timezone.now()
    first = min(by_day)
    for number in range((now.date() - first).days + 1):
        day = first + timedelta(days=number)
        end = datetime.combine(day, time.max, tzinfo=UTC)
        yield min(end, now), by_day.get(day, [])


def _point(moment: datetime, last: dict[int, HealthPoint], points: list[HealthPoint]) -> TrendPoint:
    def total(name: str) -> int:
        return sum(getattr(p, name) for p in last.values())

    return TrendPoint(moment, total("total"), total("dangling"), total("stale"), total("open"),
                      sum(p.new for p in points), sum(p.fixed for p in points))  # fmt: skip


def list_edges() -> list[MapEdge]:
    """Between different projects, by their newest releases, in order of their names: as publishes have kept them."""
    rows = Release.objects.filter(aliases__name=LATEST, is_live=True).order_by("project__slug")
    hidden = hidden_projects().slugs
    return [
        MapEdge(slug, target, choices.get(target, ""), *counts)
        for slug, choices, edges in rows.values_list("project__slug", "choices", "edges")
        for target, counts in sorted(edges.items()) if target not in hidden
    ]  # fmt: skip
