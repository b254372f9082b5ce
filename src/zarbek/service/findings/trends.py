"""How references and findings came out over time, and between projects."""

from __future__ import annotations

from collections import Counter, defaultdict
from datetime import date, timedelta
from functools import lru_cache
from typing import Any

import msgspec
from django.utils import timezone

from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import HEAVY, LATEST
from zarbek.service.findings.models import HealthPoint
from zarbek.service.links.queries import cached_link_document, get_link_map


class TrendDay(msgspec.Struct, frozen=True):
    """At the end of a day: references, and findings that stand; new and fixed on that day."""

    day: date
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


def list_points(project: Project) -> list[dict[str, Any]]:
    names = ("run", "at", "total", "dangling", "stale", "open", "new", "fixed")
    return list(project.health.order_by("run").values(*names))


def list_trend(days: int, owner: str = "", project: str = "") -> list[TrendDay]:
    """Of the last days that the portal, a team or a project has lived, oldest first."""
    rows = HealthPoint.objects.order_by("at", "pk")
    if owner:
        rows = rows.filter(project__owner=owner)
    if project:
        rows = rows.filter(project__slug=project)
    by_day: dict[date, list[HealthPoint]] = defaultdict(list)
    for point in rows:
        by_day[point.at.date()].append(point)
    if not by_day:
        return []
    today = timezone.now().date()
    last: dict[int, HealthPoint] = {}
    found = []
    for back in range((today - min(by_day)).days, -1, -1):
        day = today - timedelta(days=back)
        for point in by_day.get(day, ()):
            last[point.project_id] = point
        found.append(_day(day, last, by_day.get(day, [])))
    return found[-days:]


def _day(day: date, last: dict[int, HealthPoint], points: list[HealthPoint]) -> TrendDay:
    def total(name: str) -> int:
        return sum(getattr(p, name) for p in last.values())

    return TrendDay(day, total("total"), total("dangling"), total("stale"), total("open"),
                    sum(p.new for p in points), sum(p.fixed for p in points))  # fmt: skip


def list_edges() -> list[MapEdge]:
    """Between different projects, by their newest releases, in order of their names."""
    rows = Release.objects.filter(aliases__name=LATEST, is_live=True).select_related("project").defer(*HEAVY)
    return [edge for release in rows.order_by("project__slug") for edge in _edges_of(release)]


def _edges_of(release: Release) -> list[MapEdge]:
    link_map = get_link_map(release)
    documents = (*sorted(link_map.modules.values()), link_map.pages)
    slug = release.project.slug
    totals: Counter[tuple[str, str]] = Counter()
    for document in documents:
        totals.update(dict(_counts(document)))
    targets = sorted({target for target, _ in totals if target != slug})
    return [
        MapEdge(slug, t, release.choices.get(t, ""), totals[t, "total"], totals[t, "dangling"], totals[t, "stale"])
        for t in targets
    ]


@lru_cache(maxsize=4096)
def _counts(document: int) -> tuple[tuple[tuple[str, str], int], ...]:
    """(project, how it came out) to number of references, of one document, which never changes."""
    found: Counter[tuple[str, str]] = Counter()
    for links in cached_link_document(document).values():
        for link in links:
            if not link.project or link.outcome == "outside":
                continue
            found[link.project, "total"] += 1
            if link.outcome != "linked":
                found[link.project, "dangling"] += 1
            elif link.stale:
                found[link.project, "stale"] += 1
    return tuple(found.items())
