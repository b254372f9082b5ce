"""Trying an operation."""

from __future__ import annotations

from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.throttling import Few, client_of, count_use
from zarbek.service.catalog.queries import get_release
from zarbek.service.common.api import ApiView, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.tryit.request_proxy import CallBody, CallResult, make_call

#: In a minute: a reader's hands, not a machine's load.
MAX_CALLS = 90
#: Of a process's threads; a server may take its time.
_CALLS = Few(4, "calls run")


class Calls(ApiView):
    """Sending requests through the portal."""

    @describe(
        id="makeCall",
        body=CallBody, answer=CallResult,
    )  # fmt: skip
    def post(self, request: Request, slug: str, version: str) -> HttpResponse:
        """Send a request to a server that the project allows; its answer, and whether that fits the description."""
        wanted = read_body(request, CallBody)
        count_use("calls of", client_of(request), most=MAX_CALLS, span_s=60)
        with _CALLS:
            result = make_call(get_release(slug, version), wanted)
        response = json_response(request, result)
        response["Cache-Control"] = "no-store"
        return response
