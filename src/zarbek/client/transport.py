"""The one way to the network: requests, retries, and errors with their problem details.

By the standard library's client, which asks over a connection of its own each time: it loads in half the time of those
that keep connections, and most programs that talk to a portal ask a few things and end.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from http.client import HTTPException, HTTPResponse
from typing import Any
from urllib.error import URLError
from urllib.parse import urlencode
from urllib.request import (
    HTTPDefaultErrorHandler,
    HTTPErrorProcessor,
    HTTPHandler,
    HTTPRedirectHandler,
    HTTPSHandler,
    OpenerDirector,
    ProxyHandler,
    Request,
    UnknownHandler,
)

import msgspec

from zarbek.client.errors import PortalProblem, PortalUnreachable, TokenUnreadable

_BUSY_STATUS = frozenset({502, 503, 504})
_REDIRECTIONS = frozenset({301, 302, 303, 307, 308})
_SAFE = frozenset({"GET", "HEAD"})
#: What says that there is no answer, or only a part of one; ValueError of an address that is none.
_NO_ANSWER = (OSError, HTTPException, ValueError)
#: Seconds between attempts, at most.
_WAIT_MAX_S = 5.0
#: Seconds between two signs of life of a stream; the portal gives one every 15.
_QUIET_S = 90.0


class _Busy(Exception):
    """The portal asked to come back later."""

    def __init__(self, status: int, body: bytes) -> None:
        super().__init__(status)
        self.status, self.body = status, body


class HttpTransport:
    """url: the portal's address. timeout_s: for connecting and between bytes. opener: what asks, in the place of one
    that takes its proxies from the environment. Raises TokenUnreadable."""

    def __init__(
        self, url: str, token: str = "", *, timeout_s: float = 30.0, attempts: int = 3,
        opener: OpenerDirector | None = None,
    ) -> None:  # fmt: skip
        token = token.strip()  # A file's last line end, mostly.
        if not (token.isascii() and token.isprintable()) or " " in token:
            raise TokenUnreadable
        self.url, self.timeout_s, self.attempts = url.rstrip("/"), timeout_s, attempts
        self._token = token
        self._opener = opener or _opener()

    def call(self, method: str, path: str, *, params: dict[str, Any] | None = None, json: Any = None,
             content: bytes | None = None, headers: dict[str, str] | None = None) -> bytes:  # fmt: skip
        """The body of a 2xx answer. json, content: of the request, one of them. Raises PortalProblem or
        PortalUnreachable.

        Reads, and writes with an Idempotency-Key, are tried again when the portal is busy.
        """
        is_safe = method in _SAFE or "Idempotency-Key" in (headers or {})
        body = content if json is None else msgspec.json.encode(json)
        kind = {} if json is None else {"Content-Type": "application/json"}
        address = path + (f"?{urlencode(params)}" if params else "")

        def ask() -> bytes:
            with self._open(method, address, {**kind, **(headers or {})}, body, self.timeout_s) as response:
                answer = response.read()
            if response.status in _BUSY_STATUS and is_safe:
                raise _Busy(response.status, answer)
            if 200 <= response.status < 300:
                return answer
            raise problem_of(response.status, answer)

        try:
            return self._asked(ask, is_safe)
        except _Busy as error:
            raise problem_of(error.status, error.body) from None
        except _NO_ANSWER as error:
            raise PortalUnreachable(self.url, _reason(error)) from error

    def _asked(self, ask: Callable[[], bytes], is_safe: bool) -> bytes:
        """Most answers come at the first try, and what tries again is loaded when one does not."""
        try:
            return ask()
        except (OSError, HTTPException, _Busy):
            if not is_safe or self.attempts < 2:
                raise
        import stamina
        from stamina import instrumentation

        instrumentation.set_on_retry_hooks([])  # A library says nothing by itself.
        again = stamina.retry(on=(OSError, HTTPException, _Busy), attempts=self.attempts - 1, wait_max=_WAIT_MAX_S)
        return again(ask)()

    @contextmanager
    def stream(self, path: str, accept: str) -> Iterator[HTTPResponse]:
        """An answer read line by line as it comes, however long that takes."""
        try:
            with self._open("GET", path, {"Accept": accept}, None, _QUIET_S) as response:
                if response.status >= 300:
                    raise problem_of(response.status, response.read())
                yield response
        except _NO_ANSWER as error:
            raise PortalUnreachable(self.url, _reason(error)) from error

    def _open(
        self, method: str, address: str, headers: dict[str, str], body: bytes | None, timeout_s: float
    ) -> HTTPResponse:  # fmt: skip
        """An answer whatever its status; redirections are followed without the token."""
        request = Request(self.url + address, body, {"Accept": "application/json", **headers}, method=method)
        request.add_header("User-Agent", "zarbek-client")
        if self._token:
            request.add_unredirected_header("Authorization", f"Bearer {self._token}")
        response: HTTPResponse = self._opener.open(request, timeout=timeout_s)
        return response


class _Answers(HTTPErrorProcessor):
    """An answer is one whatever its status; only redirections go on."""

    def http_response(self, request: Request, response: HTTPResponse) -> HTTPResponse:
        """The answer, or that to the request which it leads to."""
        if response.status not in _REDIRECTIONS:
            return response
        found: HTTPResponse = super().http_response(request, response)
        return found

    https_response = http_response


def _opener() -> OpenerDirector:
    """Asks by HTTP and nothing else, by way of the proxies that the environment names."""
    made = OpenerDirector()
    for handler in (ProxyHandler, HTTPHandler, HTTPSHandler, HTTPRedirectHandler, HTTPDefaultErrorHandler,
                    _Answers, UnknownHandler):  # fmt: skip
        made.add_handler(handler())
    return made


def _reason(error: Exception) -> str:
    found = error.reason if isinstance(error, URLError) and isinstance(error.reason, Exception) else error
    return (str(found) or type(found).__name__).strip("<>.")


def problem_of(status: int, body: bytes) -> PortalProblem:
    """An answer that says no as an error; also one without problem details (RFC 9457)."""
    try:
        facts = msgspec.json.decode(body, type=dict[str, Any])
    except msgspec.MsgspecError:
        facts = {}
    detail = str(facts.get("detail") or f"The portal answered {status} without saying why.")
    return PortalProblem(status, str(facts.get("code", "unknown")), detail, facts)
