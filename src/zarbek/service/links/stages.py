"""The link stage of a run."""

from __future__ import annotations

from zarbek.core.findings.formats.wording import count, faults_of
from zarbek.service.links.actions import keep_relocations, link_release
from zarbek.service.links.comparison import compare, find_predecessor, judge_number
from zarbek.service.publishing.pipeline import Publish, register_stage


def register() -> None:
    """Register the stages that link a release, compare it and note what moved."""
    register_stage(30, "link", link)
    register_stage(35, "compare", compare_with_last)
    register_stage(52, "relocate", relocate)


def link(publish: Publish) -> None:
    """Link before anyone can see the release."""
    linked = link_release(publish.stored, progress=publish.progress.count, fence=publish.progress.fenced)
    counted = linked.counted()
    publish.counts.update(total=counted.total, held=counted.held, dangling=counted.dangling,
                          stale=counted.stale, outside=counted.outside)  # fmt: skip
    publish.findings = linked.findings
    faults = faults_of(counted.dangling, counted.stale) or "all hold"
    publish.progress.log(f"Linked {count(counted.total, 'reference')}: {faults}.")


def compare_with_last(publish: Publish) -> None:
    """What callers of the release before notice, and whether the number says so."""
    release = publish.stored
    before = find_predecessor(release)
    if before is None:
        return
    comparison = compare(before.pk, release.pk)
    publish.counts.update(changes=len(comparison.changes), breaking=comparison.counts["breaking"])
    finding = judge_number(comparison)
    if finding is not None:
        publish.findings.append(finding)
    publish.progress.log(
        f"Since {before.version}: {len(comparison.changes)} changes, {comparison.counts['breaking']} of them breaking."
    )


def relocate(publish: Publish) -> None:
    """Only now that the release is there may old addresses lead into it."""
    release = publish.stored
    before = None if publish.run.is_dry else find_predecessor(release)
    if before is not None:
        with publish.progress.fenced():
            keep_relocations(before, release)
