"""Reading findings, waivers and how they changed over time."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import datetime

import msgspec
from django.db.models import Count, Max, Min, Q, QuerySet, Sum
from django.db.models.fields.json import KT

from zarbek.core.findings.rules import SEVERITY_ORDER, at_least
from zarbek.core.findings.waivers import WaiverRule
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import PortalChange, Project
from zarbek.service.common.problems import NotFound
from zarbek.service.content.editions import projects_read_in_part
from zarbek.service.findings.models import ALIVE, FindingRecord, Waiver
from zarbek.service.publishing.models import GOING, Run


def rule_of(waiver: Waiver) -> WaiverRule:
    """A waiver as the core matches it."""
    return WaiverRule(
        id=waiver.pk, project=waiver.project.slug if waiver.project else "", rule=waiver.rule, target=waiver.target,
        file=waiver.file, fingerprint=waiver.fingerprint, reason=waiver.reason, person=waiver.person,
        until=waiver.until,
    )  # fmt: skip


def list_waivers(project: Project) -> list[WaiverRule]:
    """The waivers that may cover findings of a project, newest first; also those that have ended."""
    rows = Waiver.objects.filter(Q(project=project) | Q(project=None)).select_related("project")
    return [rule_of(row) for row in rows]


def counted_waivers() -> QuerySet[Waiver]:
    """Waivers with their projects and, as ``covers``, the number of findings that stand under each."""
    standing_ones = Count("findings", filter=Q(findings__state__in=ALIVE))
    return Waiver.objects.select_related("project").annotate(covers=standing_ones)


def standing(rows: Iterable[FindingRecord]) -> list[Finding]:
    """The findings of rows under their own fingerprints."""
    return [msgspec.convert({**row.document, "fingerprint": row.fingerprint}, Finding) for row in rows]


def alive(project: Project, branch: str = "") -> QuerySet[FindingRecord]:
    """The findings of a project that stand; branch: of a preview, or empty."""
    return _readable().filter(project=project, branch=branch, state__in=ALIVE)


def _readable() -> QuerySet[FindingRecord]:
    """Findings that whoever asks may read: none of projects of which they read an edition only."""
    part = projects_read_in_part().ids
    return FindingRecord.objects.exclude(project__in=part) if part else FindingRecord.objects.all()


def get_waiver(waiver_id: int) -> Waiver:
    """A waiver with its project. Raises NotFound."""
    waiver = Waiver.objects.filter(pk=waiver_id).select_related("project").first()
    if waiver is None:
        raise NotFound("There is no such waiver.")
    return waiver


class FindingQuery(msgspec.Struct, frozen=True, kw_only=True):
    """Which findings are asked for; an empty text asks for all.

    family: the part of the rule before its ``/``. least: a severity, for it and worse ones. state: one of a
    finding's states; all but ``fixed`` if empty. owner: ``-`` for nobody's. target: ``PROJECT/NAME``. waived: None
    for both.
    """

    project: str = ""
    family: str = ""
    rule: str = ""
    severity: str = ""
    least: str = ""
    state: str = ""
    owner: str = ""
    target: str = ""
    waived: bool | None = None


def find_findings(asked: FindingQuery) -> QuerySet[FindingRecord]:
    """The findings that a question means, with their projects and waivers."""
    rows = _readable().select_related("project", "waiver")
    rows = rows.filter(state=asked.state) if asked.state else rows.filter(state__in=ALIVE)
    for value, column in ((asked.project, "project__slug"), (asked.rule, "rule"), (asked.severity, "severity"),
                          (asked.target, "target")):  # fmt: skip
        if value:
            rows = rows.filter(**{column: value})
    if asked.least:
        rows = rows.filter(severity__in=[s for s in SEVERITY_ORDER if at_least(s, asked.least)])
    if asked.owner:
        rows = rows.filter(owner="" if asked.owner == "-" else asked.owner)
    if asked.family:
        rows = rows.filter(rule__startswith=f"{asked.family}/")
    return rows if asked.waived is None else rows.filter(waiver__isnull=not asked.waived)


@dataclass(slots=True)
class Group:
    """Findings that belong together. first: id of the oldest. suggestions: the least and the greatest of theirs."""

    key: str
    count: int = 0
    places: int = 0
    new: int = 0
    waived: int = 0
    projects: set[str] = field(default_factory=set)
    rules: set[str] = field(default_factory=set)
    first: int = 0
    suggestions: set[str] = field(default_factory=set)
    oldest: datetime | None = None


#: What one row says of the findings of a project and rule in a group.
_OF_A_GROUP = {
    "count": Count("pk"), "places": Sum("places"), "new": Count("pk", filter=Q(state__in=("new", "back"))),
    "waived": Count("waiver"), "first": Min("pk"), "oldest": Min("first_seen_at"),
    "least": Min(KT("document__suggestion")), "greatest": Max(KT("document__suggestion")),
}  # fmt: skip


def group_findings(rows: QuerySet[FindingRecord], by: str) -> list[Group]:
    """Findings by their target, owner, rule or project, the largest group first."""
    column = "project__slug" if by == "project" else by
    found: dict[str, Group] = {}
    plain = rows.select_related(None).order_by()
    for row in plain.values(*{column, "rule", "project__slug"}).annotate(**_OF_A_GROUP):
        group = found.setdefault(row[column], Group(row[column]))
        group.count, group.new = group.count + row["count"], group.new + row["new"]
        group.waived += row["waived"]
        group.places += row["places"]
        group.projects.add(row["project__slug"])
        group.rules.add(row["rule"])
        group.first = min(group.first or row["first"], row["first"])
        group.suggestions |= {row["least"] or "", row["greatest"] or ""}
        group.oldest = min(group.oldest or row["oldest"], row["oldest"])
    return sorted(found.values(), key=lambda g: (-g.places, g.key))


def list_unfollowed(before: datetime) -> list[PortalChange]:
    """Changes made before a time that nobody has followed up, and no run is at."""
    waiting = PortalChange.objects.filter(settled_at=None, made_at__lt=before)
    going = set(Run.objects.filter(state__in=GOING, pk__in=[c.run for c in waiting]).values_list("pk", flat=True))
    return [change for change in waiting if change.run not in going]
