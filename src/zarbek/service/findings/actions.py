"""Findings through their life: new, open, fixed, back."""

from __future__ import annotations

import msgspec
from django.db import transaction
from django.utils import timezone

from zarbek.core.findings.report import Counted, Elsewhere, Report, compare_findings
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST
from zarbek.service.findings.models import ALIVE, FindingRecord, HealthPoint
from zarbek.service.links.actions import Linked, iter_dependants, link_release
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.pipeline import Publish
from zarbek.service.reference.queries import get_manifest


def make_report(publish: Publish, findings: list[Finding]) -> Report:
    """The report of a run; unless it is dry, findings of this and other projects are kept."""
    release, run = publish.stored, publish.run
    project = release.project
    project.refresh_from_db()  # Going live may have named its owner.
    counted = Counted(**{k: publish.counts.get(k, 0) for k in ("total", "held", "dangling", "stale", "outside")})
    owned = [msgspec.structs.replace(f, owner=project.owner) for f in findings]
    is_current = run.is_dry or project.aliases.filter(name=LATEST, release=release).exists()
    before = _alive(project) if is_current else []
    new, still, fixed = compare_findings(owned, before)
    elsewhere: list[Elsewhere] = []
    if not run.is_dry:
        if is_current:
            _keep(project, publish.version, f"{project.slug} {publish.version}", run.pk, new, still, fixed)
            _add_point(project, run.pk, counted)
        elsewhere = _relink_dependants(release, publish)
    previous = _previous_version(project, run.pk)
    return Report(
        project=project.slug, version=publish.version, run=run.pk, previous=previous, dry=run.is_dry,
        counts=counted, new=new, open=still, fixed=fixed, elsewhere=elsewhere,
    )  # fmt: skip


def _alive(project: Project) -> list[Finding]:
    rows = FindingRecord.objects.filter(project=project, state__in=ALIVE)
    return [msgspec.convert(row.document, Finding) for row in rows]


def _previous_version(project: Project, run: int) -> str:
    """The version of the project's run before this one, or empty."""
    rows = Run.objects.filter(project=project.slug, state="done", is_dry=False, is_preview=False, pk__lt=run)
    return rows.order_by("-pk").values_list("version", flat=True).first() or ""


def _keep(
    project: Project, version: str, cause: str, run: int, new: list[Finding], still: list[Finding],
    fixed: list[Finding],
) -> None:  # fmt: skip
    now = timezone.now()
    with transaction.atomic():
        rows = FindingRecord.objects.filter(project=project)
        rows.filter(fingerprint__in=[f.fingerprint for f in fixed]).update(state="fixed", fixed_at=now, last_run=run)
        rows.filter(fingerprint__in=[f.fingerprint for f in still]).update(state="open", last_run=run, version=version)
        again = rows.filter(fingerprint__in=[f.fingerprint for f in new])
        known = set(again.values_list("fingerprint", flat=True))
        again.update(state="back", fixed_at=None, last_run=run, version=version, cause=cause)
        FindingRecord.objects.bulk_create(
            [
                FindingRecord(
                    project=project, fingerprint=f.fingerprint, rule=f.rule, severity=f.severity, state="new",
                    version=version, cause=cause, owner=f.owner, document=msgspec.to_builtins(f),
                    first_run=run, last_run=run, first_seen_at=now,
                )
                for f in new
                if f.fingerprint not in known
            ],
            batch_size=500,
        )  # fmt: skip


def _add_point(project: Project, run: int, counted: Counted) -> None:
    HealthPoint.objects.create(
        project=project, run=run, at=timezone.now(), total=counted.total, dangling=counted.dangling, stale=counted.stale
    )


def _relink_dependants(release: Release, publish: Publish) -> list[Elsewhere]:
    """Look again at what others say of this project; what this publish broke there."""
    broken: list[Elsewhere] = []
    for dependant in iter_dependants(release.project, get_manifest(release.pk).namespaces):
        linked = link_release(dependant, progress=lambda _done, _total: publish.progress.check())
        project = dependant.project
        if not project.aliases.filter(name=LATEST, release=dependant).exists():
            continue
        cause = f"{release.project.slug} {publish.version}"
        found = _keep_linked(project, dependant.version, cause, publish.run.pk, linked)
        about = [f for f in found if f.target.startswith(release.project.slug + "/")]
        if about:
            broken.append(Elsewhere(project.slug, dependant.version, project.owner, about))
    return broken


def _keep_linked(project: Project, version: str, cause: str, run: int, linked: Linked) -> list[Finding]:
    """Update what linking decides of a project's findings; the new ones."""
    before = [f for f in _alive(project) if _is_from_links(f)]
    owned = [msgspec.structs.replace(f, owner=project.owner) for f in linked.findings]
    new, still, fixed = compare_findings(owned, before)
    _keep(project, version, cause, run, new, still, fixed)
    if new or fixed:
        _add_point(project, run, linked.counted())
    return new


def _is_from_links(finding: Finding) -> bool:
    return finding.rule.startswith(("dangling/", "stale/")) and finding.rule != "stale/parameter"
