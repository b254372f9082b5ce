"""Tables to take away."""

from __future__ import annotations

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, describe
from zarbek.service.common.conditional import body_response, json_response
from zarbek.service.reference.page_cache import cached_page
from zarbek.service.reference.table_list import TableList, list_tables
from zarbek.service.reference.table_page import write_markdown


class TableText(msgspec.Struct):
    """text: CommonMark."""

    path: str
    text: str


class TableMarkdown(ApiView):
    """A table as a text."""

    @describe(id="getTableText", answer=TableText)
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponse:
        """A table with its columns, keys, checks and query as Markdown."""
        return json_response(request, TableText(path, write_markdown(get_release(slug, version), path)))


class Tables(ApiView):
    """The tables of a release."""

    @describe(id="listTables", answer=TableList)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """All tables and views of a release, with where they lie, where they are made, and their keys."""
        made = cached_page("tables", slug, version, "", lambda release, _: list_tables(release))
        return body_response(request, *made)
