"""Git repositories that the portal gathers by itself."""

from __future__ import annotations

import fnmatch
from datetime import datetime
from typing import Annotated

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.errors import GitRefused
from zarbek.core.material.git_repository import check_ref, list_tags
from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.catalog.actions.projects import check_slug
from zarbek.service.catalog.permissions import may_maintain, require_maintainer
from zarbek.service.catalog.queries import get_project, live_versions
from zarbek.service.common.allowed_repositories import reach_repository
from zarbek.service.common.api import Address, ApiView, Line, Slug, describe, read_body
from zarbek.service.common.conditional import created_response, json_response
from zarbek.service.common.problems import NotFound, Refused
from zarbek.service.publishing.actions.runs import version_of_tag
from zarbek.service.publishing.run_data import RunView, run_view
from zarbek.service.sources.actions import add_source, remove_source, start_fetch
from zarbek.service.sources.models import Source
from zarbek.service.sources.queries import get_source


class NewSource(msgspec.Struct, forbid_unknown_fields=True):
    """poll_minutes: how often the portal looks for new tags and publishes them; 0 for never. tags:
    pattern of the tags that are releases. branch: whose commits count; main or master if left out."""

    address: Address
    folder: Annotated[str, msgspec.Meta(max_length=300)] = ""
    poll_minutes: Annotated[int, msgspec.Meta(ge=0, le=100_000)] = 0
    tags: Slug = "v*"
    branch: Line = ""


class Ahead(msgspec.Struct):
    """tags: newer than what is published. commits: on the branch since, None where unknown."""

    tags: list[str] = []
    commits: int | None = None
    branch: str = ""
    since: str = ""
    head: str = ""


class SourceView(msgspec.Struct):
    """address, folder: empty for who may not manage the project. hook: the address that a code host may call;
    secret: only in the answer that made it."""

    id: int
    project: str
    address: str
    folder: str
    poll_minutes: int
    tags: str
    branch: str
    polled_at: datetime | None
    problem: str
    ahead: Ahead
    hook: str
    secret: str = ""


def source_view(source: Source, secret: str = "", *, request: Request) -> SourceView:
    """Where a repository lies is told to whoever may manage its project."""
    address = source.address if may_maintain(source.project.slug) else ""
    return SourceView(
        source.pk, source.project.slug, address, source.folder if address else "", source.poll_minutes, source.tags, source.branch,
        source.polled_at, source.problem if address else _UNTOLD[bool(source.problem)], msgspec.convert(source.ahead, Ahead), f"/api/v1/hooks/{source.pk}", secret,
    )  # fmt: skip


#: Messages of git hold addresses.
_UNTOLD = {False: "", True: "It could not be read."}


class Fetch(msgspec.Struct):
    """What to fetch: a tag, a pattern of tags such as ``v*``, or a branch as a preview."""

    tag: Line = ""
    tags: Slug = ""
    branch: Slug = ""


class Sources(ApiView):
    """The repositories of a project."""

    @describe(id="listSources", answer=list[SourceView])
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Where a project's releases come from."""
        rows = get_project(slug).sources.select_related("project")
        return json_response(request, [source_view(s, request=request) for s in rows])

    @describe(id="addSource", answer=SourceView, status=201, body=NewSource)
    def post(self, request: Request, slug: str) -> HttpResponse:
        """Register a git repository of a project."""
        require_administrator()
        body = read_body(request, NewSource)
        if body.folder.startswith("/") or ".." in body.folder.split("/"):
            raise Refused("The folder must lie inside the repository.")
        try:
            reach_repository(body.address)
        except GitRefused as error:
            raise Refused(str(error)) from error
        source, secret = add_source(check_slug(slug), **msgspec.structs.asdict(body))
        return created_response(request, source_view(source, secret, request=request))


class SourceDetail(ApiView):
    """One repository."""

    @describe(id="removeSource", status=204)
    def delete(self, request: Request, source_id: int) -> HttpResponse:
        """Gather a repository no more; what was published of it stays."""
        require_administrator()
        remove_source(get_source(source_id))
        return HttpResponse(status=204)


class Fetches(ApiView):
    """Having the portal gather by itself."""

    @describe(id="fetchReleases", answer=list[RunView], status=202, body=Fetch)
    def post(self, request: Request, slug: str) -> HttpResponse:
        """Gather and publish a tag, all new tags of a pattern, or a branch as a preview."""
        require_maintainer(slug)
        body = read_body(request, Fetch)
        source = get_project(slug).sources.first()
        if source is None:
            raise NotFound(f"{slug} has no source. Register its repository first.")
        try:
            wanted = _wanted(source, body, slug)
        except GitRefused as error:
            raise Refused(str(error)) from error
        runs = [
            start_fetch(source, ref, version, is_preview=bool(body.branch), actor=request.user.get_username())
            for ref, version in wanted
        ]  # fmt: skip
        response = json_response(request, [run_view(run) for run in runs])
        response.status_code = 202
        return response


def _wanted(source: Source, body: Fetch, slug: str) -> list[tuple[str, str]]:
    """(ref, version) of what to publish; tags that are published already are left out."""
    if body.branch:
        return [(check_ref(body.branch), body.branch.replace("/", "-"))]
    if body.tag:
        tags = [check_ref(body.tag)]
    else:
        known = list_tags(reach_repository(source.address))
        tags = [t for t in known if fnmatch.fnmatchcase(t, body.tags or "v*")]
    published = live_versions(slug)
    found = [(tag, version_of_tag(tag)) for tag in tags]
    return [(tag, version) for tag, version in found if version not in published]
