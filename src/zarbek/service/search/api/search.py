"""One box over symbols and guides of all projects."""

from __future__ import annotations

from urllib.parse import quote

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.errors import QueryError
from zarbek.core.searching.query import parse_query
from zarbek.service.common.api import ApiView, Parameter, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import read_size
from zarbek.service.common.problems import Problem
from zarbek.service.search.queries import search


class HitView(msgspec.Struct):
    """What was found. href: its page."""

    project: str
    version: str
    kind: str
    path: str
    name: str
    summary: str
    is_deprecated: bool
    href: str


class Search(ApiView):
    """Searching the newest releases."""

    @describe(id="search", answer=list[HitView],
              parameters=(Parameter("q", "What to look for; may hold project:, kind:, language: and version: filters, and tag:, type: and database: of tables and columns."),
                          Parameter("project", "Only of this project."), Parameter("kind", "Only of this kind."),
                          Parameter("language", "Only of this language, as java or cpp."),
                          Parameter("version", "In this release instead of the newest."), Parameter("limit", "Hits at most.", "integer", least=1, most_number=500)))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """Find symbols and guides by name, part of a name, near miss or words."""
        asked = request.query_params
        try:
            query = parse_query(
                asked.get("q", ""),
                project=asked.get("project", ""),
                kind=asked.get("kind", ""),
                version=asked.get("version", ""),
                language=asked.get("language", ""),
            )
        except QueryError as error:
            raise Problem(str(error)) from error
        hits = search(query, read_size(asked))
        return json_response(request, [_view(hit.document, version) for hit, version in hits])


def _view(document, version: str) -> HitView:  # type: ignore[no-untyped-def]
    base = "guide" if document.kind == "guide" else "ref"
    place = f"#{quote(document.anchor)}" if document.anchor else ""
    return HitView(
        document.project, version, document.kind, document.path, document.name, document.summary,
        document.is_deprecated, f"/{base}/{document.project}/{version}/{quote(document.path)}{place}",
    )  # fmt: skip
