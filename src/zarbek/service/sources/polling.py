"""Repositories, services and databases that may be ahead of what the portal has published."""

from __future__ import annotations

import fnmatch

from zarbek.core.errors import GitRefused
from zarbek.core.linking.versions import newest, sort_key
from zarbek.core.material.git_repository import Remote, count_commits, list_refs
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST, list_releases
from zarbek.service.common.allowed_repositories import reach_repository
from zarbek.service.common.egress import beside
from zarbek.service.common.workplaces import workplace
from zarbek.service.publishing.actions.cache_epoch import renew_pages
from zarbek.service.publishing.actions.runs import version_of_tag
from zarbek.service.sources.actions import fetch_tags, keep_asked, keep_catalog, keep_polled
from zarbek.service.sources.ahead_findings import keep_ahead
from zarbek.service.sources.databases import ask_database, publish_stored
from zarbek.service.sources.models import Database, Source
from zarbek.service.sources.running_services import ask_service, publish_running


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
    keep_polled(source, ahead, problem)
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


def poll_database(database_id: int) -> None:
    """Ask a database what it has; what changed is published as a preview."""
    database = Database.objects.select_related("project").filter(pk=database_id).first()
    if database is None:
        return
    is_other = keep_catalog(database, ask_database(database))
    renew_pages([database.project.slug])  # They say how many rows there are, and since when that is known.
    keep_ahead(database.project)
    if is_other:
        publish_stored(database.project, actor="poll")


def _ahead(source: Source, remote: Remote, refs: dict[str, str]) -> dict[str, object]:
    """tags: newer than what is published, oldest first. commits: of the branch since the newest
    published commit; None where that is not to be known."""
    releases = list_releases(source.project, previews=False)
    published = {r.version for r in releases}
    ecosystem = source.project.ecosystem

    def key(tag: str) -> tuple[int, object, str]:
        return sort_key(version_of_tag(tag), ecosystem)

    top = newest(published, ecosystem)
    tags = [ref.removeprefix("refs/tags/") for ref in refs if ref.startswith("refs/tags/")]
    wanted = [t for t in tags if fnmatch.fnmatchcase(t, source.tags)]
    missing = [t for t in wanted if version_of_tag(t) not in published and key(t)[0]]
    later = [t for t in missing if not top or key(t) > sort_key(top, ecosystem)]
    branch = source.branch or next((b for b in ("main", "master") if f"refs/heads/{b}" in refs), "")
    head = refs.get(f"refs/heads/{branch}", "")
    return {"tags": sorted(later, key=key), "branch": branch, "head": head,
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
