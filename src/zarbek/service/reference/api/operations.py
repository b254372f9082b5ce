"""The operations of an API."""

from __future__ import annotations

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.core.writing.html import SafeHtml
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe
from zarbek.service.common.conditional import json_response
from zarbek.service.common.html import HtmlHolder
from zarbek.service.common.paging import page_of_list
from zarbek.service.content.interface_lookup import InterfaceLookup
from zarbek.service.reference.linked_texts import UNLINKED
from zarbek.service.reference.symbol_lists import get_operations


class OperationRow(HtmlHolder):
    """html: the summary as it is shown."""

    path: str
    method: str
    address: str
    summary: str
    html: SafeHtml
    tags: list[str]
    deprecated: bool


class OperationList(msgspec.Struct):
    """next: the address of the operations that follow, or null."""

    items: list[OperationRow]
    total: int
    next: str | None


class Operations(ApiView):
    """The operations of a release."""

    @describe(id="listOperations", answer=OperationList,
              parameters=(*PAGING, Parameter("api", "Only of this API."), Parameter("tag", "Only with this tag.")))  # fmt: skip
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Operations of a release by path."""
        release = get_release(slug, version)
        api, tag = request.query_params.get("api", ""), request.query_params.get("tag")
        entries = get_operations(release.pk)
        lookup = InterfaceLookup(release.pk)
        apis = [e.path for e in entries.values() if e.kind == "api" and api in ("", e.path)]
        listed = [o for path in sorted(apis) if (s := lookup.service(path)) for o in s.operations if o.path in entries]
        if tag is not None:
            listed = [o for o in listed if o.tag == tag]
        page = page_of_list(listed, lambda o: o.path, request.query_params, request.path)
        rows = [
            OperationRow(o.path, *o.address.partition(" ")[::2], entries[o.path].summary,
                         UNLINKED.line(entries[o.path].summary), [o.tag] if o.tag else [],
                         entries[o.path].deprecated is not None)
            for o in page["items"]
        ]  # fmt: skip
        return json_response(request, {**page, "items": rows})
