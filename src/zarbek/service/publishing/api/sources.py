"""Git repositories that the portal gathers by itself."""

from __future__ import annotations

import fnmatch

import msgspec
from django.conf import settings
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.errors import GitRefused
from zarbek.core.material.gitrepo import check_address, check_ref, list_tags
from zarbek.service.accounts.authentication import require_administrator, require_writer
from zarbek.service.catalog.actions import ensure_project
from zarbek.service.catalog.models import Release, Source
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.api import ApiView, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import NotFound, Refused
from zarbek.service.publishing.actions import start_run
from zarbek.service.publishing.api.runs import RunView, check_slug, run_view


class NewSource(msgspec.Struct):
    address: str
    folder: str = ""


class SourceView(msgspec.Struct):
    id: int
    address: str
    folder: str


class Fetch(msgspec.Struct):
    """What to fetch: a tag, a pattern of tags such as ``v*``, or a branch as a preview."""

    tag: str = ""
    tags: str = ""
    branch: str = ""


class Sources(ApiView):
    @describe(id="listSources", summary="Where a project's releases come from.", answer=list[SourceView])
    def get(self, request: Request, slug: str) -> HttpResponse:
        rows = get_project(slug).sources.all()
        return json_response(request, [SourceView(s.pk, s.address, s.folder) for s in rows])

    @describe(
        id="addSource", summary="Register a git repository of a project.", answer=SourceView, status=201, body=NewSource
    )
    def post(self, request: Request, slug: str) -> HttpResponse:
        require_administrator(request)
        body = read_body(request, NewSource)
        if body.folder.startswith("/") or ".." in body.folder.split("/"):
            raise Refused("The folder must lie inside the repository.")
        try:
            check_address(body.address, settings.LOCAL_SOURCES)
        except GitRefused as error:
            raise Refused(str(error)) from error
        project = ensure_project(check_slug(slug))
        source, _ = Source.objects.get_or_create(project=project, address=body.address, folder=body.folder)
        response = json_response(request, SourceView(source.pk, source.address, source.folder))
        response.status_code = 201
        return response


class Fetches(ApiView):
    @describe(id="fetchReleases", summary="Gather and publish a tag, all new tags of a pattern, or a branch as a preview.",
              answer=list[RunView], status=202, body=Fetch)  # fmt: skip
    def post(self, request: Request, slug: str) -> HttpResponse:
        require_writer(request, slug)
        body = read_body(request, Fetch)
        source = get_project(slug).sources.first()
        if source is None:
            raise NotFound(f"{slug} has no source. Register its repository first.")
        try:
            wanted = _wanted(source, body, slug)
        except GitRefused as error:
            raise Refused(str(error)) from error
        runs = [
            start_run(
                project=slug, version=version, is_preview=bool(body.branch), actor=request.user.get_username(),
                origin={"address": source.address, "ref": ref, "folder": source.folder},
            )[0]
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
        tags = [t for t in list_tags(source.address) if fnmatch.fnmatchcase(t, body.tags or "v*")]
    published = set(Release.objects.filter(project__slug=slug, is_live=True).values_list("version", flat=True))
    found = [(tag, tag.removeprefix("v")) for tag in tags]
    return [(tag, version) for tag, version in found if version not in published]
