"""Repositories that may be ahead of what the portal has published."""

from __future__ import annotations

import fnmatch
from datetime import timedelta

from django.db.models import F
from django.utils import timezone

from zarbek.core.errors import GitRefused
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.formats.wording import count
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.linking.versions import newest, sort_key
from zarbek.core.material.git_repository import Remote, count_commits, list_refs
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Project, Release, RunningService, Source
from zarbek.service.catalog.queries import LATEST, list_releases
from zarbek.service.common.egress import beside
from zarbek.service.common.repositories import reach_repository
from zarbek.service.common.workplaces import workplace
from zarbek.service.findings.finding_history import FindingHistory
from zarbek.service.publishing.actions import renew_pages, start_fetch, version_of_tag
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.services import RUNNING, ask_service, keep_asked, publish_running


def poll_source(source_id: int) -> dict[str, object]:
    """See what a repository has that the portal has not; fetch new tags where the source asks for it."""
    source = Source.objects.select_related("project").filter(pk=source_id).first()
    if source is None:
        return {}
    try:
        remote = reach_repository(source.address)
        refs = list_refs(remote)
        ahead = _ahead(source, remote, refs)
        problem = ""
    except GitRefused as error:
        ahead, problem = source.ahead, str(error)
    Source.objects.filter(pk=source.pk).update(polled_at=timezone.now(), ahead=ahead, problem=problem)
    if not problem:
        if source.poll_minutes:
            fetch_tags(source, [str(tag) for tag in ahead["tags"]])  # type: ignore[union-attr, index]
        keep_ahead(source.project)
    return ahead


def poll_services(project_id: int) -> None:
    """Ask all services of a project what they are; what changed is published as a preview."""
    project = Project.objects.filter(pk=project_id).first()
    if project is None:
        return
    services = list(project.services.all())
    changed = [
        keep_asked(service, asked) for service, asked in zip(services, beside(ask_service, services), strict=True)
    ]
    keep_ahead(project)
    if any(changed):
        publish_running(project, actor="poll")


def _ahead(source: Source, remote: Remote, refs: dict[str, str]) -> dict[str, object]:
    """tags: newer than what is published, oldest first. commits: of the branch since the newest
    published commit; None where that is not to be known."""
    releases = list_releases(source.project, previews=False)
    published = {r.version for r in releases}
    top = newest(published)
    tags = [ref.removeprefix("refs/tags/") for ref in refs if ref.startswith("refs/tags/")]
    wanted = [t for t in tags if fnmatch.fnmatchcase(t, source.tags)]
    missing = [t for t in wanted if version_of_tag(t) not in published and sort_key(version_of_tag(t))[0]]
    later = [t for t in missing if not top or sort_key(version_of_tag(t)) > sort_key(top)]
    branch = source.branch or next((b for b in ("main", "master") if f"refs/heads/{b}" in refs), "")
    head = refs.get(f"refs/heads/{branch}", "")
    return {"tags": sorted(later, key=lambda t: sort_key(version_of_tag(t))), "branch": branch, "head": head,
            "since": top, "commits": _commits(source, remote, head)}  # fmt: skip


def _commits(source: Source, remote: Remote, head: str) -> int | None:
    """From the commit of the preview, else of ``latest``, to the head of the branch."""
    rows = Release.objects.filter(project=source.project, is_live=True).exclude(commit="")
    latest = rows.filter(is_preview=True).order_by("-published_at").first() or rows.filter(aliases__name=LATEST).first()
    if latest is None or not head:
        return None
    if latest.commit == head:
        return 0
    with workplace("history") as folder:
        return count_commits(remote, latest.commit, head, folder)


def fetch_tags(source: Source, tags: list[str]) -> list[Run]:
    """Publish tags, oldest first; those that a run is at already, or failed at, are left alone."""
    started = []
    for tag in tags:
        version = version_of_tag(tag)
        if not Run.objects.filter(project=source.project.slug, version=version, is_dry=False).exists():
            started.append(start_fetch(source, tag, version, actor="poll"))
    return started


def keep_ahead(project: Project) -> None:
    """Write down what of a project's repositories and services the portal has not got."""
    release = Release.objects.filter(project=project, aliases__name=LATEST).first()
    if release is None:
        return
    found = [f for s in project.sources.exclude(polled_at=None) for f in _findings(s, s.ahead)]
    found += [f for s in project.services.exclude(asked_at=None) for f in _of_service(s, release)]
    finding_history = FindingHistory(project, release.version, 0)
    compared = finding_history.compare(found, part="ahead")
    if not compared.is_empty:
        finding_history.keep(compared, "repository")
        renew_pages()


def _of_service(service: RunningService, release: Release) -> list[Finding]:
    slug = service.project.slug
    if service.problem:
        rule = "dangling/service"
        since = f" It was last fetched on {service.fetched_at:%Y-%m-%d}." if service.fetched_at else ""
        return [_project_finding(rule, slug, f"{service.name} does not give its description: {service.problem}.{since}",
                                 service.name, service.name)]  # fmt: skip
    published = release.published_at
    is_later = service.changed_at and published and service.changed_at > published
    if not is_later or release.version == RUNNING:
        return []
    rule = "stale/source-ahead"
    return [_project_finding(rule, slug, f"The description that {service.name} serves changed on "
                             f"{service.changed_at:%Y-%m-%d}, after {slug} {release.version} was published.",
                             service.name, service.name)]  # fmt: skip


def _project_finding(rule: str, slug: str, message: str, text: str, part: str) -> Finding:
    return Finding(
        rule, SEVERITIES[rule], "", message, subject_kind="project", text=text, target=f"{slug}/",
        fingerprint=fingerprint(rule, slug, part),
    )  # fmt: skip


def _findings(source: Source, ahead: dict[str, object]) -> list[Finding]:
    tags: list[str] = ahead.get("tags") or []  # type: ignore[assignment]
    commits = ahead.get("commits")
    told = []
    if tags:
        told.append(f"{count(len(tags), 'tag')} that the portal has not published: {', '.join(tags[:5])}")
    if isinstance(commits, int) and commits:
        told.append(f"{count(commits, 'commit')} on {ahead['branch']} since {ahead['since']}")
    if not told:
        return []
    message = f"The repository has {' and '.join(told)}."
    return [
        _project_finding(
            "stale/source-ahead", source.project.slug, message, ", ".join(tags) or str(ahead["branch"]), source.folder
        )
    ]


def poll_due_sources() -> None:
    """Put sources whose time has come into the queue."""
    from zarbek.service.findings.tasks import poll  # The tasks import this module.

    now = timezone.now()
    for source in Source.objects.filter(poll_minutes__gt=0):
        if source.polled_at is None or source.polled_at <= now - timedelta(minutes=source.poll_minutes):
            Source.objects.filter(pk=source.pk).update(polled_at=now)
            poll.enqueue(source.pk)


def poll_due_services() -> None:
    """Put projects with a service whose time has come into the queue."""
    from zarbek.service.findings.tasks import poll_running  # The tasks import this module.

    now = timezone.now()
    due = [
        s for s in RunningService.objects.filter(poll_minutes__gt=0)
        if s.asked_at is None or s.asked_at <= now - timedelta(minutes=s.poll_minutes)
    ]  # fmt: skip
    for project_id in sorted({s.project_id for s in due}):
        RunningService.objects.filter(project_id=project_id).update(asked_at=now)
        poll_running.enqueue(project_id)


def list_ahead() -> list[Source]:
    """Sources that were looked at and have something unpublished."""
    rows = Source.objects.exclude(polled_at=None).select_related("project").order_by(F("project__slug"))
    return [s for s in rows if s.ahead.get("tags") or s.ahead.get("commits")]
