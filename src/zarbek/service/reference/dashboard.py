"""What happened lately, for the home page."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, datetime

import msgspec
from django.conf import settings
from django.db.models import Count

from zarbek.service.catalog.models import Project
from zarbek.service.findings.models import ALIVE, FindingRecord
from zarbek.service.findings.trends import latest_days, list_trend
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.run_data import run_view


class Published(msgspec.Struct):
    """The last run of a project that published something. counts: as the run's."""

    run: int
    project: str
    version: str
    at: datetime
    counts: dict[str, int]


class OwnerFindings(msgspec.Struct):
    """Standing findings that a team is to look at, by family; owner: empty for nobody."""

    owner: str
    dangling: int
    stale: int
    text: int
    projects: list[str]


class Going(msgspec.Struct):
    """A run that waits or goes; done of total within the stage."""

    id: int
    project: str
    version: str
    stage: str
    done: int
    total: int
    state: str


class Day(msgspec.Struct):
    """dangling: references that dangled at the end of a day."""

    day: date
    dangling: int


class Dashboard(msgspec.Struct):
    """name: of the portal. references, dangling, stale: of the newest releases. new_dangling: findings. trend: the
    last days, oldest first."""

    name: str
    references: int
    dangling: int
    stale: int
    new_dangling: int
    projects: int
    published: list[Published]
    by_owner: list[OwnerFindings]
    running: list[Going]
    trend: list[Day]


def get_dashboard() -> Dashboard:
    """Published lately, whose turn it is, what runs, and the trend."""
    points = latest_days(Project.objects.all(), date.max).values()
    alive = FindingRecord.objects.filter(state__in=ALIVE)
    return Dashboard(
        name=settings.PORTAL_NAME,
        references=sum(p.total for p in points), dangling=sum(p.dangling for p in points),
        stale=sum(p.stale for p in points),
        new_dangling=alive.filter(state="new", rule__startswith="dangling/").exclude(severity="note").count(),
        projects=Project.objects.filter(releases__is_live=True).distinct().count(),
        published=_published(), by_owner=_by_owner(), running=_going(), trend=_trend(),
    )  # fmt: skip


def _published() -> list[Published]:
    runs = Run.objects.filter(state="done", is_dry=False).defer("report").order_by("-pk")[:40]
    newest: dict[str, Run] = {}
    for run in runs:
        newest.setdefault(run.project, run)
    return [Published(r.pk, r.project, r.version, r.finished_at, run_view(r).counts) for r in newest.values()]


def _going() -> list[Going]:
    rows = Run.objects.filter(state__in=("queued", "running")).values(*Going.__struct_fields__)
    return [Going(**row) for row in rows[:5]]


def _by_owner() -> list[OwnerFindings]:
    """Open findings by owner, the most first; projects without an owner are nobody's."""
    rows = (
        FindingRecord.objects.filter(state__in=ALIVE, waiver=None)
        .exclude(severity="note")
        .values("owner", "project__slug", "rule")
        .annotate(count=Count("pk"))
    )
    families: dict[str, dict[str, int]] = defaultdict(lambda: {"dangling": 0, "stale": 0, "text": 0})
    projects: dict[str, set[str]] = defaultdict(set)
    for row in rows:
        families[row["owner"]][row["rule"].partition("/")[0]] += row["count"]
        projects[row["owner"]].add(row["project__slug"])
    found = [OwnerFindings(owner, **counts, projects=sorted(projects[owner])) for owner, counts in families.items()]
    return sorted(found, key=lambda o: (not o.owner, -o.dangling, -o.stale, o.owner))


def _trend(days: int = 14) -> list[Day]:
    """Dangling references at the end of each of the last days that the portal has lived."""
    return [Day(point.at.date(), point.dangling) for point in list_trend(days - 1, is_by_day=True)]
