"""The console's one page, for every address that is not the API's."""

from __future__ import annotations

import secrets
from functools import lru_cache
from ipaddress import ip_address

from csp.constants import NONCE
from csp.utils import build_policy
from django.conf import settings
from django.http import HttpRequest, HttpResponse

from zarbek.service.web.problems import not_found, problem_response

#: What stands in the built page where a page has its nonce.
_NONCE = "__NONCE__"
_RESERVED = ("api/", "static/", "health/", "metrics/", "feeds/")


@lru_cache(maxsize=1)
def _html() -> str:
    return (settings.CONSOLE_DIST / "index.html").read_text()


def page(request: HttpRequest, address: str = "") -> HttpResponse:
    """The console's only page, whatever the address; unknown addresses of the API are problems."""
    if address.startswith(_RESERVED):
        return not_found(request)
    try:
        html = _html()
    except FileNotFoundError:
        return problem_response(503, "no-console", "The console is not built", "Build it: ./run console")
    nonce = secrets.token_urlsafe(18)
    response = HttpResponse(html.replace(_NONCE, nonce), content_type="text/html; charset=utf-8")
    response["Cache-Control"] = "no-cache"
    response["Content-Security-Policy"] = build_policy(config=_directives(request.get_host()), nonce=nonce)
    return response


@lru_cache(maxsize=64)
def _directives(host: str) -> dict[str, list[str]]:
    """What the console's page may load (CSP Level 3): its own files, and nothing else that this host
    serves; addresses of the API may be asked for but never run."""
    return {
        "default-src": ["'none'"],
        "script-src": _own_files(host, ".js"),
        "style-src": _own_files(host, ".css"),
        "worker-src": _own_files(host, ".js") if _may_be_named(host) else ["'self'"],
        "font-src": _own_files(host, ".woff2") if _may_be_named(host) else ["'self'"],
        "img-src": ["'self'", "data:"],
        "connect-src": ["'self'"],
        "base-uri": ["'none'"],
        "form-action": ["'none'"],
        "frame-ancestors": ["'none'"],
        "object-src": ["'none'"],
        "require-trusted-types-for": ["'script'"],
        "trusted-types": ["svelte-trusted-html", "zarbek-sanitised", "zarbek-layout"],
    }


def _own_files(host: str, suffix: str) -> list[str]:
    """The console's files as sources. A source names a host, which may be no numeric address but
    127.0.0.1 (CSP Level 3, section 6.7.2.9): under another one they are known by the page's nonce,
    which modules hand on to those that they import (HTML, section 8.1.4.2). Fonts have no nonce."""
    if not _may_be_named(host):
        return [NONCE]
    folder = settings.CONSOLE_DIST / "static"
    return sorted(f"{host}/static/{file.name}" for file in folder.glob(f"*{suffix}")) or ["'none'"]


def _may_be_named(host: str) -> bool:
    name = host.rpartition(":")[0] or host
    try:
        return str(ip_address(name.strip("[]"))) == "127.0.0.1"
    except ValueError:
        return True
