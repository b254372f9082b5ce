"""What a publish found, here and elsewhere."""

from __future__ import annotations

from collections.abc import Callable, Iterable

import msgspec
from django.conf import settings
from django.db.transaction import atomic
from django.utils import timezone

from zarbek.core.findings.formats.wording import without_notes
from zarbek.core.findings.report import Counted, Elsewhere, Examined, Report, Waived
from zarbek.core.findings.waivers import waiver_of
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.service.catalog.actions.portal_changes import settle
from zarbek.service.catalog.models import PortalChange, Project, Release
from zarbek.service.common.packing import pack, unpack
from zarbek.service.content.queries import get_manifest, read_text
from zarbek.service.findings.actions.finding_history import FindingHistory, branch_of, is_gathered
from zarbek.service.findings.queries import alive, list_waivers
from zarbek.service.links.actions.keep_links import Fence, link_and_keep
from zarbek.service.links.actions.link_texts import Linked
from zarbek.service.links.affected import affected_texts, move_choices, texts_touched
from zarbek.service.links.comparison import COMPARED
from zarbek.service.links.documents import Text
from zarbek.service.links.linking import Linking
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.pipeline import Publish


def keep_own(publish: Publish, gathered: list[Finding]) -> None:
    """Keep what was found in a release, in the transaction in which it goes live: what others come to find in it is
    found after that."""
    release, run = publish.stored, publish.run
    project = release.project
    project.refresh_from_db()  # Going live may have named its owner.
    # What is said of the release as a whole comes back whenever it is judged again.
    own = [f for f in publish.findings if f.rule in COMPARED]
    Release.objects.filter(pk=release.pk).update(gathered=pack([*own, *gathered]))
    release.refresh_from_db(fields=["is_judged", "held_for", "released_by"])
    history = FindingHistory(project, publish.version, run.pk)
    # Of a working tree that its author looks at there is nothing but a preview.
    is_kept = release.is_judged and (settings.PREVIEW or not release.is_preview)
    compares = is_kept or bool(release.held_for)
    texts = None if compares else set[Text]()
    publish.compared = history.compare([*publish.findings, *gathered] if compares else [], texts)
    if is_kept:
        kept = history.keep(publish.compared, f"{project.slug} {publish.version}", texts)
        history.count(kept, _counted(publish))


def make_report(publish: Publish, gathered: list[Finding]) -> Report:
    """The report of a run; unless it is dry, what it means for other projects is kept."""
    release, run = publish.stored, publish.run
    project = release.project
    history = FindingHistory(project, publish.version, run.pk)
    found = publish.compared or history.compare([*publish.findings, *gathered])
    if publish.change is None:
        elsewhere, examined = _tried_elsewhere(release, publish)
    else:
        elsewhere, examined = follow_change(publish.change, publish.progress.check, publish.progress.fenced)
    manifest = get_manifest(release.pk)
    new, still = (
        history.identified(found.new, found.carried),
        history.identified(found.open, found.carried),
    )
    return Report(
        project=project.slug, version=publish.version, run=run.pk, previous=_previous_version(project, run.pk),
        dry=run.is_dry, counts=_counted(publish), new=new, open=still, fixed=history.identified(found.fixed, {}),
        elsewhere=elsewhere, examined=examined, waived=list_waived(project, [*new, *still]),
        held_for=release.hold, branch=history.branch, title=project.title,
        repository=manifest.repository, commit=manifest.commit,
    )  # fmt: skip


def _counted(publish: Publish) -> Counted:
    return Counted(**{k: publish.counts.get(k, 0) for k in ("total", "held", "dangling", "stale", "outside")})


def list_waived(project: Project, findings: Iterable[Finding]) -> list[Waived]:
    """The findings that a waiver covers, and those whose waiver has ended, by place."""
    waivers, today = list_waivers(project), timezone.now().date()
    found = []
    for finding in findings:
        waiver = waiver_of(finding, project.slug, waivers, today)
        ended = None if waiver else max(
            (w for w in waivers if w.covers(finding, project.slug)), key=lambda w: w.until, default=None
        )  # fmt: skip
        if (given := waiver or ended) is not None:
            found.append(Waived(finding, given.reason, given.person, given.until, ended=waiver is None))
    return found


def follow_change(
    change: PortalChange, check: Callable[[], None] = lambda: None, fence: Fence = atomic
) -> tuple[list[Elsewhere], Examined]:
    """Look again at what a change of the portal touches, and keep what comes of it; what came of it in other projects
    that is about the one whose change it was. Following it again changes nothing.

    check: raises where another attempt at the run has taken over; fence: a transaction that does so.
    """
    affected = texts_touched(change)
    own = Release.objects.filter(pk=change.release, is_live=True).first()
    if own is not None and own.is_judged and not change.run:
        affected[own.pk] = None  # Nobody links it otherwise.
    by_id = {r.pk: r for r in Release.objects.filter(pk__in=affected).select_related("project")}
    touched: list[Elsewhere] = []
    releases = texts = mentions = 0
    for pk in sorted(by_id):
        check()
        judged = judge_release(by_id[pk], affected[pk], change.cause, change.run, check=check, fence=fence)
        if judged is None:
            continue
        found, linked = judged
        releases, texts, mentions = releases + 1, texts + len(linked.examined or ()), mentions + linked.mentions
        if found is not None and found.project != change.project:
            touched.append(_about(found, change.project))
    project = Project.objects.filter(slug=change.project).first()
    if project is not None:
        move_choices(project)
    settle(change)
    told = [e for e in touched if e.findings or e.fixed]
    return sorted(told, key=lambda e: e.project), Examined(releases, texts, mentions, _count_judged(change.release))


def judge_release(
    release: Release, texts: set[Text] | None, cause: str, run: int = 0, *, check: Callable[[], None] = lambda: None,
    fence: Fence = atomic,
) -> tuple[Elsewhere | None, Linked] | None:  # fmt: skip
    """Link texts of a release again, None for all, and keep that with what it decides of its findings: what is new
    and what is mended, none for a preview, whose findings nobody keeps. None for a release that is gone."""

    def keep(linked: Linked) -> tuple[Elsewhere | None, Linked]:
        return (None if release.is_preview else _keep_linked(release, linked, cause, run)), linked

    return link_and_keep(release, texts, then=keep, fence=fence, progress=lambda _done, _total: check())


def _keep_linked(release: Release, linked: Linked, cause: str, run: int) -> Elsewhere:
    project = release.project
    history = FindingHistory(project, release.version, run)
    is_whole = linked.examined is None
    found = history.judge(
        lambda: [*linked.findings, *_gathered(release, linked.examined)], linked.examined,
        part="published" if is_whole else "links", cause=cause, counted=linked.counted(),
    )  # fmt: skip
    return Elsewhere(project.slug, release.version, project.owner, history.identified(found.new, {}), found.fixed)


def gathered_with(release: Release) -> list[Finding]:
    """What was found when a release was gathered."""
    kept = Release.objects.values_list("gathered", flat=True).get(pk=release.pk)
    return unpack(kept, list[Finding]) if kept else []


def _gathered(release: Release, texts: set[Text] | None) -> list[Finding]:
    """All of that, or, of some texts, what links might have said as well."""
    found = gathered_with(release)
    if texts is None:
        return found
    return [f for f in found if (f.subject_kind, f.subject) in texts and not is_gathered(f)]


def _about(elsewhere: Elsewhere, slug: str) -> Elsewhere:
    return msgspec.structs.replace(
        elsewhere, findings=[f for f in elsewhere.findings if f.about == slug],
        fixed=[f for f in elsewhere.fixed if f.about == slug],
    )  # fmt: skip


def _tried_elsewhere(release: Release, publish: Publish) -> tuple[list[Elsewhere], Examined]:
    """What a release would break and mend elsewhere if it went out; nothing is kept."""
    affected = affected_texts(release, ())
    slug = release.project.slug
    told: list[Elsewhere] = []
    texts = mentions = 0
    for other in Release.objects.filter(pk__in=affected).exclude(project=release.project).select_related("project"):
        publish.progress.check()
        wanted = affected[other.pk]
        if wanted is None or other.is_preview:
            continue
        judging = Linking(other, trial=release)
        found = _gathered(other, wanted)
        for kind, path in sorted(wanted):
            judged = _judge(judging, other, kind, path)
            found, mentions = found + judged[0], mentions + judged[1]
        texts += len(wanted)
        compared = FindingHistory(other.project, other.version, publish.run.pk).compare(found, wanted, part="links")
        told.append(_about(Elsewhere(other.project.slug, other.version, other.project.owner,
                                     compared.new, compared.fixed), slug))  # fmt: skip
    return sorted((e for e in told if e.findings or e.fixed), key=lambda e: e.project), Examined(
        len(affected), texts, mentions, _count_judged(release.pk)
    )


def _count_judged(release: int | None) -> int:
    """References of all judged releases but one."""
    others = Release.objects.filter(is_live=True, is_judged=True)
    if release is not None:
        others = others.exclude(pk=release)
    return sum(health.get("total", 0) for health in others.values_list("health", flat=True))


def _judge(judging: Linking, release: Release, kind: str, path: str) -> tuple[list[Finding], int]:
    if kind == "project":
        return judging.judge_dependencies(), 0
    text = read_text(release.pk, kind, path)
    if text is None:
        return [], 0
    judged = judging.judge_page(text) if isinstance(text, Page) else judging.judge_symbol(text)
    return judged.findings, len(judged.links)


def _previous_version(project: Project, run: int) -> str:
    """The version of the project's run before this one, or empty."""
    rows = Run.objects.filter(project=project.slug, state="done", is_dry=False, is_preview=False, pk__lt=run)
    return rows.order_by("-pk").values_list("version", flat=True).first() or ""


def weighty(findings: Iterable[Finding]) -> int:
    """Notes are left aside: they are many, and nobody's turn."""
    return len(without_notes(findings))


def close_line(release: Release) -> int:
    """Findings of a line that nobody cares for any longer stand no more; how many."""
    return alive(release.project, branch_of(release.project, release.version)).update(state="retired")
