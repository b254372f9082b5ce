"""The link stage of a run."""

from __future__ import annotations

from django.conf import settings

from zarbek.core.findings.formats.wording import count, faults_of
from zarbek.core.findings.report import Counted
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.actions.portal_changes import lock_portal
from zarbek.service.catalog.elsewhere import releases_elsewhere
from zarbek.service.catalog.models import Release
from zarbek.service.links.actions.adopt_links import adopt_links
from zarbek.service.links.actions.keep_links import link_and_keep
from zarbek.service.links.actions.link_texts import Linked, keep_history
from zarbek.service.links.actions.relocations import keep_relocations
from zarbek.service.links.affected import texts_touched
from zarbek.service.links.comparison import COMPARED, compare, find_predecessor, judge_examples, judge_number
from zarbek.service.links.documents import Text
from zarbek.service.links.last_linked import difference, last_linked, note_linked
from zarbek.service.links.queries import list_concerning, list_neighbours
from zarbek.service.publishing.actions.progress import RunTakenOver
from zarbek.service.publishing.pipeline import (
    Behind,
    Publish,
    register_live_step,
    register_preparation,
    register_stage,
)


def register() -> None:
    """Register the stages that link a release, compare it and note what moved; and what keeps its links true until
    it is live."""
    register_stage(30, "link", link)
    register_stage(35, "compare", compare_with_last)
    register_stage(52, "relocate", relocate)
    register_preparation(catch_up)
    register_live_step(90, require_current)


def link(publish: Publish) -> None:
    """Link before anyone can see the release."""
    texts, is_whole = _texts(publish)
    counted = _link(publish, texts)
    if settings.PREVIEW:
        note_linked(publish.stored, publish.findings, is_whole=is_whole)
    faults = faults_of(counted.dangling, counted.stale) or "all hold"
    publish.progress.log(f"Linked {count(counted.total, 'reference')}: {faults}.")


def _texts(publish: Publish) -> tuple[set[Text] | None, bool]:
    """The texts to be linked, None for all, and whether all others are linked as they should be: of a working tree
    those that differ from what it was before."""
    release = publish.stored
    last = last_linked(release)
    if last is None or not adopt_links(release, last.release):
        return None, True
    if releases_elsewhere():  # A text that was just saved is no longer as old as it was.
        keep_history(release)
    found = difference(last.release, release.pk)
    publish.findings = list(last.findings)
    return found.texts, found.is_named_alike and last.is_whole


def _itself(linked: Linked) -> Linked:
    return linked


def _link(publish: Publish, texts: set[Text] | None) -> Counted:
    """Texts of the release, None for all. All as well where others have linked some: an earlier attempt at the run has
    made it live, and what they found is not among the run's findings."""
    linked = link_and_keep(publish.stored, texts, then=_itself, fence=publish.progress.fenced,
                           progress=publish.progress.count)  # fmt: skip
    if linked is None:
        raise RunTakenOver(f"the release of run {publish.run.pk} is gone")
    if texts is not None and publish.stored.link_revision != publish.link_revision + 1:
        return _link(publish, None)
    publish.link_revision = publish.stored.link_revision
    counted = linked.counted()
    publish.counts.update(total=counted.total, held=counted.held, dangling=counted.dangling,
                          stale=counted.stale, outside=counted.outside)  # fmt: skip
    publish.findings = [*(f for f in publish.findings if _stays(f, texts)), *linked.findings]
    return counted


def _stays(finding: Finding, texts: set[Text] | None) -> bool:
    """Whether linking texts again, None for all, leaves a finding as it is."""
    if finding.rule in COMPARED:
        return True
    return texts is not None and (finding.subject_kind, finding.subject) not in texts


def catch_up(publish: Publish) -> None:
    """Link again what others have changed since the release was linked."""
    release = publish.stored
    if not _is_ours(publish):
        _link(publish, None)
    while changes := list_concerning(release, release.linked_at):
        texts: set[Text] | None = set()
        for change in changes:
            touched = texts_touched(change, release.pk).get(release.pk, set())
            texts = None if touched is None or texts is None else texts | touched
        _link(publish, texts)


def require_current(publish: Publish) -> None:
    """Raises Behind where something has changed since; nothing does from now on until the release is live."""
    lock_portal()
    if not _is_ours(publish) or list_concerning(publish.stored, publish.stored.linked_at):
        raise Behind


def _is_ours(publish: Publish) -> bool:
    """Whether the release's links are those that gave the run's findings."""
    return Release.objects.filter(pk=publish.stored.pk, link_revision=publish.link_revision).exists()


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
    publish.findings += judge_examples(comparison, before)
    publish.progress.log(
        f"Since {before.version}: {len(comparison.changes)} changes, {comparison.counts['breaking']} of them breaking."
    )


def relocate(publish: Publish) -> None:
    """Only now that the release is there may old addresses lead into it."""
    if publish.run.is_dry:
        return
    release = publish.stored
    publish.renewed |= list_neighbours(release.project)
    before = find_predecessor(release)
    if before is not None:
        with publish.progress.fenced():
            keep_relocations(before, release)
