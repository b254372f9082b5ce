"""Entity tags and caching (RFC 9110 sections 8.8.3 and 13, RFC 9111, RFC 8246)."""

from __future__ import annotations

from typing import Any

import msgspec
from django.http import HttpRequest, HttpResponse
from django.utils.cache import get_conditional_response

from zarbek.service.common.asker import APART, current_asker
from zarbek.service.common.packing import digest_of

_IMMUTABLE = "public, max-age=31536000, immutable"


def caching(*, immutable: bool) -> str:
    """What caches may do with an answer. Where not everybody gets the same, they keep it for one person only, and ask
    each time (RFC 9111, section 5.2.2)."""
    asker = current_asker()
    if asker.user is not None or asker.remembered.get(APART):
        return "private, no-cache"
    return _IMMUTABLE if immutable else "no-cache"


def json_response(request: HttpRequest, data: Any, *, immutable: bool = False) -> HttpResponse:
    """A JSON answer with an entity tag; 304 where the client has it already."""
    return body_response(request, msgspec.json.encode(data, enc_hook=str), immutable=immutable)


def created_response(request: HttpRequest, data: Any) -> HttpResponse:
    """The same for what a request has made: 201."""
    response = json_response(request, data)
    response.status_code = 201
    return response


def tag_of(body: bytes) -> str:
    """A strong entity tag."""
    return f'"{digest_of(body)}"'


def body_response(
    request: HttpRequest, body: bytes, tag: str = "", *, immutable: bool = False,
    content_type: str = "application/json",
) -> HttpResponse:  # fmt: skip
    """As json_response, for a body that is encoded already, and its tag where that is known."""
    tag = tag or tag_of(body)
    response = HttpResponse(body, content_type=content_type)
    response["ETag"] = tag
    response["Cache-Control"] = caching(immutable=immutable)
    if request.method not in ("GET", "HEAD"):
        return response  # What it asked for is done.
    return get_conditional_response(request, etag=tag, response=response)
