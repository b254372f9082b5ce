"""Reading findings, waivers and how they changed over time."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
from django.db.models import Count, Q, QuerySet

from zarbek.core.findings.waivers import WaiverRule
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Project
from zarbek.service.findings.models import ALIVE, FindingRecord, Waiver


def rule_of(waiver: Waiver) -> WaiverRule:
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
    return FindingRecord.objects.filter(project=project, branch=branch, state__in=ALIVE)
