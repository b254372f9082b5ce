"""The notify stage of a run, and the chores that send."""

from __future__ import annotations

import msgspec
from django.conf import settings
from django.utils import timezone

from zarbek.core.findings.formats.wording import without_notes
from zarbek.core.findings.report import Report
from zarbek.service.catalog.models import Project
from zarbek.service.common.chores import register_chore
from zarbek.service.findings.actions.waivers import end_past_waivers
from zarbek.service.findings.queries import rule_of
from zarbek.service.notices.actions import announce
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
            rule = rule_of(waiver)
            announce("waiver.ended", waiver.project, waiver.pk, {
                "waiver": waiver.pk, "project": rule.project, "rule": rule.rule, "target": rule.target,
                "file": rule.file, "reason": rule.reason, "person": rule.person, "until": rule.until.isoformat(),
            })  # fmt: skip
    if over:
        renew_pages()


def notify(publish: Publish) -> None:
    """Tell of the release, and tell each project where it broke something."""
    run = publish.run
    if run.is_dry:
        return
    report = msgspec.json.decode(Run.objects.values_list("report", flat=True).get(pk=run.pk), type=Report)
    release, new = publish.stored, without_notes(report.new)
    kind = "preview.published" if release.is_preview else "release.held" if report.held_for else "release.published"
    with publish.progress.fenced():
        announce(kind, release.project, run.pk, {
            "run": run.pk, "project": report.project, "version": report.version,
            "counts": msgspec.to_builtins(report.counts),
            "new": msgspec.to_builtins(new[:MAX_TOLD]), "new_total": len(new),
            "fixed_total": len(without_notes(report.fixed)),
            "report": f"{settings.PUBLIC_URL}/reports/{run.pk}", "held_for": report.held_for,
        })  # fmt: skip
        by_slug = {p.slug: p for p in Project.objects.filter(slug__in=[e.project for e in report.elsewhere])}
        for other in report.elsewhere:
            if broken := without_notes(other.findings):
                announce("references.broken", by_slug[other.project], run.pk, {
                    "run": run.pk, "project": other.project, "version": other.version, "owner": other.owner,
                    "by": f"{report.project} {report.version}", "new": msgspec.to_builtins(broken[:MAX_TOLD]),
                    "new_total": len(broken), "report": f"{settings.PUBLIC_URL}/reports/{run.pk}",
                })  # fmt: skip
