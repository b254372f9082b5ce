"""Supplements that people write in the portal."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.catalog.models import Project
from zarbek.service.catalog.permissions import may_maintain, require_maintainer
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.api import PAGING, ApiView, Words, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of_list
from zarbek.service.common.problems import NotFound
from zarbek.service.reference.page_data import SymbolPage
from zarbek.service.supplements.actions.writing import (
    MAX_TEXT,
    Written,
    read_written,
    remove_supplement,
    write_supplement,
)
from zarbek.service.supplements.models import Revision
from zarbek.service.supplements.preview import preview
from zarbek.service.supplements.queries import list_revisions, list_written, may_read_as_written, patch_of

_Text = Annotated[str, msgspec.Meta(max_length=MAX_TEXT)]


class NewText(msgspec.Struct, forbid_unknown_fields=True):
    """text: a file of a supplement, empty to remove it; what it was is kept among its revisions. reason: why. after: the revision that it is made from, 0 for none; left out, what
    others have written meanwhile is not asked for."""

    text: _Text
    reason: Words
    after: Annotated[int, msgspec.Meta(ge=0, le=2**62)] | None = None


class Draft(msgspec.Struct, forbid_unknown_fields=True):
    """text: a file of a supplement. path: of the element whose page it is to be seen on."""

    text: _Text
    path: Annotated[str, msgspec.Meta(max_length=700)]
    name: Annotated[str, msgspec.Meta(max_length=200)] = "draft.md"


class RevisionView(msgspec.Struct):
    """text: as a file has it, empty where it was removed."""

    id: int
    name: str
    text: str
    author: str
    reason: str
    written_at: datetime


class WrittenPage(msgspec.Struct):
    """next: the address of the supplements that follow, or null. may_write: whether the asker may."""

    items: list[RevisionView]
    total: int
    next: str | None
    may_write: bool


class WrittenView(msgspec.Struct):
    """run: that brings it to readers."""

    revision: RevisionView
    run: int


def _view(row: Revision) -> RevisionView:
    return RevisionView(row.pk, row.name, row.text, row.author, row.reason, row.written_at)


def _answer(request: Request, written: Written) -> HttpResponse:
    return json_response(request, WrittenView(_view(written.revision), written.run.pk))


def _written_project(slug: str) -> Project:
    project = get_project(slug)
    if not may_read_as_written(project):
        raise NotFound(f"What was written of {slug} is for who reads all of it.")
    return project


class WrittenSupplements(ApiView):
    """The supplements of a project that were written in the portal."""

    @describe(id="listWrittenSupplements", answer=WrittenPage, parameters=PAGING)
    def get(self, request: Request, slug: str) -> HttpResponse:
        """Supplements of a project that were written here, as they are now, by name."""
        project = get_project(slug)
        rows = list_written(project) if may_read_as_written(project) else []
        page = page_of_list(rows, lambda row: row.name, request.query_params, request.path)
        return json_response(
            request, {**page, "items": [_view(row) for row in page["items"]], "may_write": may_maintain(slug)}
        )

    @describe(id="previewSupplement", answer=SymbolPage, body=Draft)
    def post(self, request: Request, slug: str) -> HttpResponse:
        """The page of an element as it would be with a text; nothing is kept."""
        project = get_project(slug)
        require_maintainer(slug)
        body = read_body(request, Draft)
        return json_response(request, preview(project, body.path, read_written(project, body.name, body.text)))


class WrittenSupplement(ApiView):
    """One of them."""

    @describe(id="listSupplementRevisions", answer=list[RevisionView])
    def get(self, request: Request, slug: str, name: str) -> HttpResponse:
        """All that a supplement has been, newest first."""
        return json_response(request, [_view(row) for row in list_revisions(_written_project(slug), name)])

    @describe(id="writeSupplement", answer=WrittenView, body=NewText)
    def put(self, request: Request, slug: str, name: str) -> HttpResponse:
        """Write a supplement, write it anew, or remove it; a run brings it to readers."""
        project = get_project(slug)
        require_maintainer(slug)
        body = read_body(request, NewText)
        author = request.user.get_username()
        if not body.text:
            return _answer(request, remove_supplement(project, name, author=author, reason=body.reason))
        written = write_supplement(project, name, body.text, author=author, reason=body.reason, after=body.after)
        return _answer(request, written)


class SupplementPatch(ApiView):
    """What was written, for the repository."""

    @describe(id="getSupplementPatch", answer=str, media_type="text/x-diff")
    def get(self, request: Request, slug: str) -> HttpResponse:
        """A patch that adds all that was written here to the project's repository, as ``git apply`` takes it."""
        answer = HttpResponse(patch_of(_written_project(slug)), content_type="text/x-diff; charset=utf-8")
        answer["Content-Disposition"] = f'attachment; filename="supplements-{slug}.patch"'
        return answer
