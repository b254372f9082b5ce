"""What is tested of a release."""

from __future__ import annotations

from collections.abc import Iterator

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.writing.csv_table import csv_table
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, describe
from zarbek.service.common.conditional import body_response
from zarbek.service.reference.page_cache import cached_page
from zarbek.service.reference.tested import Tested, list_tested

COLUMNS = ("module", "element", "kind", "example", "project", "version", "verdict", "at", "seconds", "told")


class TestedElements(ApiView):
    """What is tested."""

    @describe(id="getTested", answer=Tested)
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Which elements of a release are shown by examples from tests, and how these went."""
        made = cached_page("tested", slug, version, "", lambda release, _: list_tested(release))
        return body_response(request, *made)


class TestedTable(ApiView):
    """The same to open in a spreadsheet."""

    @describe(id="getTestedTable", answer=str, media_type="text/csv")
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """The elements of a release with their examples as CSV (RFC 4180), a row an example; elements that none shows
        have a row without one."""
        found = list_tested(get_release(slug, version), is_whole=True)
        answer = HttpResponse(csv_table(COLUMNS, _rows(found)), content_type="text/csv; charset=utf-8")
        answer["Content-Disposition"] = f'attachment; filename="tested-{found.project}-{found.version}.csv"'
        return answer


def _rows(found: Tested) -> Iterator[tuple[object, ...]]:
    for module in found.modules:
        for element in module.shown:
            for example in element.examples:
                told = example.verdict
                yield (module.path, element.name, element.kind, example.title, example.project, example.version,
                       told.state, told.at, told.seconds, told.told)  # fmt: skip
        for other in module.others:
            yield module.path, other.name, other.kind, "", "", "", "", "", None, ""
