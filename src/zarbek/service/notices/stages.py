"""The notify stage of a run, and the chores that send."""

from __future__ import annotations

from functools import partial
from typing import Any

import msgspec
from django.conf import settings
from django.utils import timezone

from zarbek.core.findings.formats.wording import without_notes
from zarbek.core.findings.report import Elsewhere, Report, without_projects
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.chores import register_chore
from zarbek.service.findings.actions.waivers import end_past_waivers
from zarbek.service.findings.models import Waiver
from zarbek.service.findings.queries import rule_of
from zarbek.service.findings.tasks import cover
from zarbek.service.notices.actions.webhooks import announce, forget_deliveries
from zarbek.service.notices.models import Delivery
from zarbek.service.notices.tasks import send_due, send_mail
from zarbek.service.publishing.actions.cache_epoch import renew_pages
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.pipeline import Publish, register_stage

MAX_TOLD = 50


def register() -> None:
    """Register the stage that tells of a publish, and the chores that deliver and mail."""
    register_stage(70, "notify", notify)
    register_chore("deliveries", 5, _deliver)
    register_chore("digests", settings.DIGEST_S, _send_mail)
    register_chore("waivers", 3600, end_waivers)
    register_chore("old events", 600, forget_deliveries)


def _deliver() -> None:
    if Delivery.objects.filter(state="waiting", due_at__lte=timezone.now()).exists():
        send_due.enqueue()


def _send_mail() -> None:
    send_mail.enqueue()


def end_waivers() -> None:
    """Waivers whose last day is over: their findings count again, and whoever listens is told."""
    over = end_past_waivers()
    for waiver in over:
        if waiver.project is not None:
            announce("waiver.ended", waiver.project, waiver.pk, partial(_ended, waiver.pk))
        else:
            cover.enqueue()
    renew_pages(waiver.project.slug for waiver in over if waiver.project is not None)


def _ended(number: int) -> dict[str, Any]:
    """What a waiver was; nothing where it, or what it names, is kept from whoever asks."""
    waiver = Waiver.objects.select_related("project").filter(pk=number).first()
    if waiver is None:
        return {}
    rule = rule_of(waiver)
    return {
        "waiver": number, "project": rule.project, "rule": rule.rule, "target": rule.target, "file": rule.file,
        "reason": rule.reason, "person": rule.person, "until": rule.until.isoformat(),
    }  # fmt: skip


def notify(publish: Publish) -> None:
    """Tell of the release, and tell each project where it broke something."""
    run = publish.run
    if run.is_dry:
        return
    report = msgspec.json.decode(Run.objects.values_list("report", flat=True).get(pk=run.pk), type=Report)
    kind = "release.published"
    if publish.stored.is_preview or report.held_for:
        kind = "preview.published" if publish.stored.is_preview else "release.held"
    with publish.progress.fenced():
        announce(kind, publish.stored.project, run.pk, partial(_published, report, run.pk))
        by_slug = {p.slug: p for p in Project.objects.filter(slug__in=[e.project for e in report.elsewhere])}
        for other in report.elsewhere:
            if other.project in by_slug and without_notes(other.findings):
                tell = partial(_broken, report, other, run.pk)
                announce("references.broken", by_slug[other.project], run.pk, tell)


def _published(report: Report, run: int) -> dict[str, Any]:
    """What a release or preview has, as far as whoever asks may see it."""
    report = without_projects(report, hidden_projects().slugs)
    new = without_notes(report.new)
    return {
        "run": run, "project": report.project, "version": report.version,
        "counts": msgspec.to_builtins(report.counts),
        "new": msgspec.to_builtins(new[:MAX_TOLD]), "new_total": len(new),
        "fixed_total": len(without_notes(report.fixed)),
        "report": f"{settings.PUBLIC_URL}/reports/{run}", "held_for": report.held_for,
    }  # fmt: skip


def _broken(report: Report, other: Elsewhere, run: int) -> dict[str, Any]:
    """What a release broke in another project; nothing where it is kept from whoever asks."""
    hidden = hidden_projects().slugs
    broken = [f for f in without_notes(other.findings) if f.about not in hidden]
    if not broken or report.project in hidden:
        return {}
    return {
        "run": run, "project": other.project, "version": other.version, "owner": other.owner,
        "by": f"{report.project} {report.version}", "new": msgspec.to_builtins(broken[:MAX_TOLD]),
        "new_total": len(broken), "report": f"{settings.PUBLIC_URL}/reports/{run}",
    }  # fmt: skip
