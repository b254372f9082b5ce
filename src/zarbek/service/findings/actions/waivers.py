"""Every change to waivers."""

from __future__ import annotations

from collections.abc import Collection
from datetime import date, timedelta

from django.db import transaction
from django.utils import timezone

from zarbek.core.findings.rules import RULES
from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.actions.projects import lock_project
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.problems import Problem
from zarbek.service.findings.actions.finding_history import FindingHistory
from zarbek.service.findings.models import ALIVE, FindingRecord, Waiver
from zarbek.service.publishing.actions.cache_epoch import renew_pages

MAX_DAYS = 731


def make_waivers(
    *,
    project: str,
    rule: str,
    target: str,
    file: str,
    fingerprints: Collection[str],
    reason: str,
    until: date,
    person: str,
) -> list[Waiver]:
    """One waiver, or one for each fingerprint. Those of the whole portal cover nothing before ``cover_again`` has been
    called. Raises Problem for one without reason, without an end, or that names what does not exist."""
    _check(rule, target, file, fingerprints, reason, until)
    found = get_project(project) if project else None
    unknown = [p for p in fingerprints if not FindingRecord.objects.filter(fingerprint=p).exists()]
    if unknown:
        raise Problem(f"There is no finding {', '.join(sorted(unknown)[:5])}.")
    with transaction.atomic():
        made = [
            Waiver.objects.create(
                project=found, rule=rule, target=target, file=file, fingerprint=fingerprint, reason=reason.strip(),
                person=person, until=until,
            )
            for fingerprint in dict.fromkeys(fingerprints or [""])
        ]  # fmt: skip
        for waiver in made:
            note("waiver.made", project=project, subject=f"waiver {waiver.pk}", after=_facts(waiver))
        if found is not None:
            cover_again(found)
    renew_pages([project])
    return made


def _facts(waiver: Waiver) -> dict[str, str]:
    names = ("rule", "target", "file", "fingerprint", "reason", "person")
    return {**{name: getattr(waiver, name) for name in names}, "until": waiver.until.isoformat()}


def _check(rule: str, target: str, file: str, fingerprints: Collection[str], reason: str, until: date) -> None:
    today = timezone.now().date()
    if len(reason.strip()) < 3:
        raise Problem("A waiver needs a reason, for those who meet it later.")
    if until < today:
        raise Problem(f"{until} is over. Name a day to come.")
    if until > today + timedelta(days=MAX_DAYS):
        raise Problem("A waiver holds two years at most; whoever comes then may decide again.")
    if not (rule or target or file or fingerprints):
        raise Problem("Say what to waive: a rule, a target, files, or findings.")
    if rule and "*" not in rule and rule not in {r.id for r in RULES}:
        raise Problem(f"There is no rule {rule}.")
    if any(len(text) > limit for text, limit in ((rule, 60), (target, 700), (file, 500))):
        raise Problem("A pattern is too long.")


def end_waiver(waiver: Waiver) -> None:
    """End a waiver; what it covered counts again, for one of the whole portal once ``cover_again`` has been called."""
    project = waiver.project
    with transaction.atomic():
        slug = project.slug if project is not None else ""
        note("waiver.ended", project=slug, subject=f"waiver {waiver.pk}", before=_facts(waiver))
        waiver.delete()
        if project is not None:
            cover_again(project)
    renew_pages([slug])


def cover_again(project: Project | None) -> None:
    """Which waiver covers which finding, of a project or of all."""
    today = timezone.now().date()
    rows = FindingRecord.objects.filter(state__in=ALIVE)
    if project is not None:
        rows = rows.filter(project=project)
    for slug, branch, version in rows.values_list("project__slug", "branch", "version").distinct():
        finding_history = FindingHistory(get_project(slug), version, 0)
        if finding_history.branch == branch:
            with transaction.atomic():
                lock_project(finding_history.project.pk)
                finding_history.cover(today)


def end_past_waivers() -> list[Waiver]:
    """Waivers whose last day is over, each told once; what they covered counts again, for those of the whole portal
    once ``cover_again`` has been called."""
    over = Waiver.objects.filter(until__lt=timezone.now().date(), ended_at=None).select_related("project")
    return [waiver for waiver in over if _end_past(waiver)]


def _end_past(waiver: Waiver) -> bool:
    """Whether it was this call that ended it."""
    project = waiver.project
    with transaction.atomic():
        if not Waiver.objects.filter(pk=waiver.pk, ended_at=None).update(ended_at=timezone.now()):
            return False
        slug = project.slug if project is not None else ""
        note("waiver.over", project=slug, subject=f"waiver {waiver.pk}", before=_facts(waiver))
    if project is not None:
        cover_again(project)
    return True
