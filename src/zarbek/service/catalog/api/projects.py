"""Projects and their releases."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.model.bundle import Manifest
from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.actions.projects import remove_project, remove_release
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import (
    get_project,
    get_release,
    in_order,
    list_releases,
    read_manifest,
    with_releases,
)
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.api import PAGING, ApiView, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of, page_of_list
from zarbek.service.common.problems import Refused


class ReleaseView(msgspec.Struct):
    """support: supported or retired by decision, else empty. is_judged: whether its references are looked at when
    others publish. held_for: why a policy keeps it from latest. symbols, pages: how many it has."""

    version: str
    is_preview: bool
    commit: str
    published_at: datetime | None
    aliases: list[str]
    symbols: int
    pages: int
    support: str
    is_judged: bool
    held_for: str


class ProjectView(msgspec.Struct):
    """latest: a version, empty for none. releases: newest first. purl: package URL (ECMA-427). visibility: for whom it
    is: public, inside for who is signed in, or teams for its members."""

    slug: str
    title: str
    summary: str
    owner: str
    purl: str
    latest: str
    releases: list[ReleaseView]
    visibility: str


class ProjectPage(msgspec.Struct):
    """next: the address of the projects that follow, or null."""

    items: list[ProjectView]
    total: int
    next: str | None


class ReleasePage(msgspec.Struct):
    """next: the address of the releases that follow, or null."""

    items: list[ReleaseView]
    total: int
    next: str | None


def release_view(release: Release, aliases: dict[int, list[str]]) -> ReleaseView:
    """A release as the API shows it; aliases: by primary key of a release."""
    return ReleaseView(
        release.version, release.is_preview, release.commit, release.published_at,
        sorted(aliases.get(release.pk, [])), release.counts.get("symbols", 0), release.counts.get("pages", 0),
        release.support, release.is_judged, release.hold,
    )  # fmt: skip


def project_view(project: Project, live: Iterable[Release] | None = None) -> ProjectView:
    """live: its live releases, where they have been read."""
    aliases: dict[int, list[str]] = {}
    for alias in project.aliases.all():
        aliases.setdefault(alias.release_id, []).append(alias.name)
    ordered = list_releases(project) if live is None else in_order(project, live)
    releases = [release_view(r, aliases) for r in ordered]
    latest = next((r.version for r in releases if "latest" in r.aliases), "")
    return ProjectView(
        project.slug, project.title, project.summary, project.owner, project.purl, latest, releases, project.visibility
    )


class Projects(ApiView):
    """The portal's projects."""

    @describe(id="listProjects", answer=ProjectPage, parameters=PAGING)
    def get(self, request: Request) -> HttpResponse:
        """List the portal's projects by slug."""
        rows = with_releases(Project.objects.all())
        page = page_of(rows, ("slug",), request.query_params, request.path)
        return json_response(request, {**page, "items": [project_view(p, p.live) for p in page["items"]]})


class ProjectDetail(ApiView):
    """One project."""

    @describe(id="getProject", answer=ProjectView)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """One project with its releases, newest first."""
        return json_response(request, project_view(get_project(slug)))

    @describe(
        id="removeProject",
        status=204,
    )
    def delete(self, request: Request, slug: str) -> HttpResponse:
        """Remove a project for good, with all its releases, findings and sources."""
        require_administrator()
        remove_project(get_project(slug))
        return HttpResponse(status=204)


class Releases(ApiView):
    """A project's releases."""

    @describe(id="listReleases", answer=ReleasePage, parameters=PAGING)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """List a project's releases, newest first."""
        view = project_view(get_project(slug))
        return json_response(
            request, page_of_list(view.releases, lambda r: r.version, request.query_params, request.path)
        )


class ReleaseRemoval(ApiView):
    """One release, to be removed."""

    @describe(id="removeRelease", status=204)
    def delete(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Remove a release or preview for good; aliases move on."""
        require_administrator()
        release = get_release(slug, version)
        if release.version != version:
            raise Refused(f"Name the release itself: {version} is {release.version} today.")
        remove_release(release)
        return HttpResponse(status=204)


class ManifestView(Manifest, kw_only=True):
    """choices: which release of each project that it refers to its names mean."""

    choices: dict[str, str]


def _readable(choices: dict[str, str]) -> dict[str, str]:
    hidden = hidden_projects().slugs
    return {project: version for project, version in choices.items() if project not in hidden}


class ReleaseDetail(ApiView):
    """The manifest of one release."""

    @describe(id="getManifest", answer=ManifestView)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """The manifest of one release."""
        release = get_release(slug, version)
        facts = {**read_manifest(release), "version": release.version, "choices": _readable(release.choices)}
        body = msgspec.convert(facts, ManifestView)
        return json_response(request, body, immutable=version == release.version and not release.is_preview)
