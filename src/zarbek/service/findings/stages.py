"""The policy and report stages of a run."""

from __future__ import annotations

import msgspec

from zarbek.core.model.finding import Finding
from zarbek.service.findings.actions.finding_history import FindingHistory
from zarbek.service.findings.actions.judging import keep_own, make_report, weighty
from zarbek.service.findings.claims import tell_claims
from zarbek.service.findings.release_hold import held_for
from zarbek.service.publishing.actions.run_state import hold_release, keep_report
from zarbek.service.publishing.bundles import open_bundle
from zarbek.service.publishing.pipeline import Publish, register_live_step, register_stage


def register() -> None:
    """Register the stages that hold a release to its policy and report on it, and what keeps its findings."""
    register_stage(45, "policy", policy)
    register_stage(60, "report", report)
    register_live_step(50, keep)


def policy(publish: Publish) -> None:
    """Decide, before the aliases switch, whether the release may become ``latest``."""
    release, run = publish.stored, publish.run
    if run.is_preview or release.is_live or not release.project.policy:
        return
    history = FindingHistory(release.project, publish.version, run.pk)
    reason = held_for(release.project, history.compare([*publish.findings, *_gathered(publish)]))
    with publish.progress.fenced():
        hold_release(release, reason)
    if release.held_for:
        publish.progress.log(f"Held back from latest. {release.held_for}", "warning")


def keep(publish: Publish) -> None:
    """Keep what was found in the release, together with its going live."""
    keep_own(publish, _gathered(publish))


def report(publish: Publish) -> None:
    """Make and keep the report of a run, with what it means for other projects."""
    made = make_report(publish, _gathered(publish))
    publish.counts.update(new=weighty(made.new), open=weighty(made.open), fixed=weighty(made.fixed),
                          elsewhere=sum(weighty(e.findings) for e in made.elsewhere),
                          examined=made.examined.mentions)  # fmt: skip
    with publish.progress.fenced():
        if not publish.run.is_dry and not publish.run.is_preview:
            tell_claims(publish.stored.project)
        keep_report(publish.run, msgspec.json.encode(made), publish.counts)


def _gathered(publish: Publish) -> list[Finding]:
    with open_bundle(publish.run.bundle) as bundle:
        return list(bundle.findings())
