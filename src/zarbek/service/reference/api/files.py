"""Files that readers may look into."""

from __future__ import annotations

from functools import partial

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe
from zarbek.service.common.conditional import body_response, json_response
from zarbek.service.common.paging import page_of_list
from zarbek.service.common.request_validation import read_number
from zarbek.service.reference.page_cache import cached_page
from zarbek.service.reference.source_page import get_source_page, list_source_files
from zarbek.service.reference.source_page_data import SourceListed, SourcePage


class FileList(msgspec.Struct):
    """next: the address of the files that follow, or null."""

    items: list[SourceListed]
    total: int
    next: str | None


class Files(ApiView):
    """The files of a release."""

    @describe(id="listFiles", answer=FileList, parameters=PAGING)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Files of a release that readers may look into, by name."""
        rows = list_source_files(get_release(slug, version))
        page = page_of_list(rows, lambda row: row.file, request.query_params, request.path)
        return json_response(request, page)


class FileDetail(ApiView):
    """One file."""

    @describe(id="getFile", answer=SourcePage,
              parameters=(Parameter("from", "The line to begin at; 1 if left out.", "integer", least=1),))  # fmt: skip
    def get(self, request: Request, slug: str, version: str, path: str) -> HttpResponse:
        """A file with the prose of its comments beside its code, and links at the names that are known."""
        begin = read_number("from", request.query_params.get("from", "1"), 1, 2**31)
        make = partial(get_source_page, begin=begin)
        return body_response(request, *cached_page(f"source {begin}", slug, version, path, make))
