"""The console's one page, for every address that is not the API's."""

from __future__ import annotations

from functools import lru_cache

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from zarbek.service.entry.problems import not_found, problem_response

_RESERVED = ("api/", "static/", "health/", "metrics/", "feeds/")


@lru_cache(maxsize=1)
def _html() -> bytes:
    return (settings.CONSOLE_DIST / "index.html").read_bytes()


def page(request: HttpRequest, address: str = "") -> HttpResponse:
    if address.startswith(_RESERVED):
        return not_found(request)
    try:
        html = _html()
    except FileNotFoundError:
        return problem_response(503, "no-console", "The console is not built", "Build it: ./run console")
    response = HttpResponse(html, content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    return response
