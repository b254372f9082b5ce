"""How references and findings came out over time, and between projects."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator
from datetime import UTC, date, datetime, time, timedelta

import msgspec
from django.db.models import Min, OuterRef, QuerySet, Subquery
from django.utils import timezone

from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.findings.models import HealthDay, HealthPoint

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
    """References of a project after a run, and its findings: open since before, new, fixed. run: 0 for what no run
    brought about."""

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
    rows = project.health.order_by("at", "pk").values(*HealthView.__struct_fields__)
    return [HealthView(**{**row, "run": row["run"] or 0}) for row in rows]


def list_trend(days: int, owner: str = "", project: str = "", *, is_by_day: bool = False) -> list[TrendPoint]:
    """Of the last days that the portal, a team or a project has lived, oldest first: a point a day, or one for each run
    while it is younger than a few days, unless by day is asked for."""
    projects = Project.objects.all()
    for name, value in (("owner", owner), ("slug", project)):
        if value:
            projects = projects.filter(**{name: value})
    kept, now = HealthDay.objects.filter(project__in=projects), timezone.now()
    first = kept.aggregate(day=Min("day"))["day"]
    if first is None:
        return []
    since = now - timedelta(days=days)
    if not is_by_day and now.date() - first < timedelta(days=YOUNG_DAYS):
        points = HealthPoint.objects.filter(project__in=projects, at__gte=_beginning(first)).order_by("at", "pk")
        return [point for point in _by_run(points) if point.at >= since]
    start = max(since.date(), first)
    by_day: dict[date, list[HealthDay]] = defaultdict(list)
    for row in kept.filter(day__gte=start):
        by_day[row.day].append(row)
    last = latest_days(projects, start)
    return [_at_end_of(start + timedelta(days=n), by_day, last) for n in range((now.date() - start).days + 1)]


def latest_days(projects: QuerySet[Project], before: date) -> dict[int, HealthDay]:
    """Project id to the last of its days with a run before a day."""
    rows = HealthDay.objects.filter(project=OuterRef("pk"), day__lt=before).order_by("-day").values("pk")
    wanted = projects.order_by().annotate(last_day=Subquery(rows[:1])).values_list("last_day", flat=True)
    return {row.project_id: row for row in HealthDay.objects.filter(pk__in=[pk for pk in wanted if pk is not None])}


def _by_run(points: Iterable[HealthPoint]) -> Iterator[TrendPoint]:
    last: dict[int, HealthPoint] = {}
    for point in points:
        last[point.project_id] = point
        yield _point(point.at, last.values(), [point])


def _at_end_of(day: date, by_day: dict[date, list[HealthDay]], last: dict[int, HealthDay]) -> TrendPoint:
    """last: each project's last day before this one, which goes on with it."""
    rows = by_day.get(day, [])
    last.update({row.project_id: row for row in rows})
    return _point(min(_beginning(day) + timedelta(days=1, microseconds=-1), timezone.now()), last.values(), rows)


def _beginning(day: date) -> datetime:
    return datetime.combine(day, time.min, tzinfo=UTC)


def _point(
    moment: datetime, last: Collection[HealthPoint | HealthDay], came: Collection[HealthPoint | HealthDay]
) -> TrendPoint:
    def total(name: str) -> int:
        return sum(getattr(p, name) for p in last)

    return TrendPoint(moment, total("total"), total("dangling"), total("stale"), total("open"),
                      sum(p.new for p in came), sum(p.fixed for p in came))  # fmt: skip


def list_edges() -> list[MapEdge]:
    """Between different projects, by their newest releases, in order of their names: as publishes have kept them."""
    rows = Release.objects.filter(aliases__name=LATEST, is_live=True).order_by("project__slug")
    hidden = hidden_projects().slugs
    return [
        MapEdge(slug, target, choices.get(target, ""), *counts)
        for slug, choices, edges in rows.values_list("project__slug", "choices", "edges")
        for target, counts in sorted(edges.items()) if target not in hidden
    ]  # fmt: skip
