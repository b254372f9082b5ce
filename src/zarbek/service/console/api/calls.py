"""Trying an operation, and the operations of an API."""

from __future__ import annotations

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle
from rest_framework.views import APIView

from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of
from zarbek.service.console.calls import CallBody, CallResult, make_call
from zarbek.service.reference.interfaces import InterfaceLookup
from zarbek.service.reference.queries import iter_entries


class CallThrottle(SimpleRateThrottle):
    """A reader's hands, not a machine's load."""

    scope = "calls"
    rate = "90/min"

    def get_cache_key(self, request: Request, view: APIView) -> str:
        return f"calls-{self.get_ident(request)}"


class Calls(ApiView):
    throttle_classes = (CallThrottle,)

    @describe(
        id="makeCall",
        summary="Send a request to a server that the project allows; its answer, and whether that fits the description.",
        body=CallBody, answer=CallResult,
    )  # fmt: skip
    def post(self, request: Request, slug: str, version: str) -> HttpResponse:
        wanted = read_body(request, CallBody)
        response = json_response(request, make_call(get_release(slug, version), wanted))
        response["Cache-Control"] = "no-store"
        return response


class OperationRow(msgspec.Struct):
    path: str
    method: str
    address: str
    summary: str
    tags: list[str]
    deprecated: bool


class OperationList(msgspec.Struct):
    items: list[OperationRow]
    total: int
    next: str | None


class Operations(ApiView):
    @describe(id="listOperations", summary="Operations of a release by path.", answer=OperationList,
              parameters=(*PAGING, Parameter("api", "Only of this API."), Parameter("tag", "Only with this tag.")))  # fmt: skip
    def get(self, request: Request, slug: str, version: str) -> HttpResponse:
        release = get_release(slug, version)
        api, tag = request.query_params.get("api", ""), request.query_params.get("tag")
        entries = sorted(
            (e.symbol for e in iter_entries(release.pk) if e.symbol.kind == "operation" and api in ("", e.symbol.module)),
            key=lambda e: e.path,
        )  # fmt: skip
        found = InterfaceLookup(release.pk).operations([e.path for e in entries]) if tag is not None else {}
        if tag is not None:
            entries = [e for e in entries if tag in (found[e.path].tags or [""])]
        page = page_of(entries, request.query_params, request.path)
        known = found or InterfaceLookup(release.pk).operations([e.path for e in page["items"]])
        rows = [
            OperationRow(e.path, known[e.path].method, known[e.path].path, e.summary, known[e.path].tags,
                         e.deprecated is not None)
            for e in page["items"] if e.path in known
        ]  # fmt: skip
        return json_response(request, {**page, "items": rows})
