"""The one door to the network: requests, retries, and errors with their problem details."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any
from urllib.request import getproxies

import httpx
import msgspec

from zarbek.client.errors import PortalProblem, PortalUnreachable, TokenUnreadable

_RETRIED_STATUS = frozenset({502, 503, 504})
_SAFE = frozenset({"GET", "HEAD"})


class _Busy(Exception):
    """The portal asked to come back later."""

    def __init__(self, response: httpx.Response) -> None:
        super().__init__(response.status_code)
        self.response = response


class HttpTransport:
    """url: the portal's address. timeout_s: for connecting and between bytes. Raises TokenUnreadable."""

    def __init__(
        self, url: str, token: str = "", *, timeout_s: float = 30.0, attempts: int = 3,
        transport: httpx.BaseTransport | None = None,
    ) -> None:  # fmt: skip
        headers = {"Accept": "application/json", "User-Agent": "zarbek-client"}
        token = token.strip()  # A file's last line end, mostly.
        if not (token.isascii() and token.isprintable()) or " " in token:
            raise TokenUnreadable
        if token:
            headers["Authorization"] = f"Bearer {token}"
        self.url = url.rstrip("/")
        self.attempts = attempts
        mounts = None if transport is not None or getproxies() else {"http://": httpx.HTTPTransport(verify=False)}
        self._http = httpx.Client(base_url=self.url, headers=headers, timeout=timeout_s, follow_redirects=True,
                                  transport=_Tls() if mounts else transport, mounts=mounts)  # fmt: skip

    def close(self) -> None:
        """End its connections."""
        self._http.close()

    def call(self, method: str, path: str, **options: Any) -> bytes:
        """The body of a 2xx answer. Raises PortalProblem or PortalUnreachable.

        Reads, and writes with an Idempotency-Key, are tried again when the portal is busy.
        """
        is_safe = method in _SAFE or "Idempotency-Key" in (options.get("headers") or {})

        def ask() -> httpx.Response:
            response = self._http.request(method, path, **options)
            if response.status_code in _RETRIED_STATUS and is_safe:
                raise _Busy(response)
            return response

        try:
            response = self._asked(ask, is_safe)
        except httpx.HTTPError as error:
            raise PortalUnreachable(self.url, _reason(error)) from error
        except _Busy as error:
            response = error.response
        if response.is_success:
            return response.content
        raise problem_of(response.status_code, response.content)

    def _asked(self, ask: Callable[[], httpx.Response], is_safe: bool) -> httpx.Response:
        """Most answers come at the first try, and what tries again is loaded when one does not."""
        try:
            return ask()
        except (httpx.TransportError, _Busy):
            if not is_safe or self.attempts < 2:
                raise
        import stamina
        from stamina import instrumentation

        instrumentation.set_on_retry_hooks([])  # A library says nothing by itself.
        for attempt in stamina.retry_context(
            on=(httpx.TransportError, _Busy), attempts=self.attempts - 1, wait_max=5.0
        ):
            with attempt:
                return ask()
        raise AssertionError("an attempt returns or raises")

    @contextmanager
    def stream(self, path: str, accept: str) -> Iterator[httpx.Response]:
        """An answer read as it comes, without a limit on its length in time."""
        try:
            timeout = httpx.Timeout(30.0, read=None)
            with self._http.stream("GET", path, headers={"Accept": accept}, timeout=timeout) as response:
                if not response.is_success:
                    raise problem_of(response.status_code, response.read())
                yield response
        except httpx.HTTPError as error:
            raise PortalUnreachable(self.url, _reason(error)) from error


class _Tls(httpx.BaseTransport):
    """Reads the certificates of authorities, most of a short program's time, only for an address that needs them:
    plain HTTP, to which a portal on this machine answers, has a transport of its own."""

    def __init__(self) -> None:
        self._made: httpx.HTTPTransport | None = None

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        self._made = self._made or httpx.HTTPTransport()
        return self._made.handle_request(request)

    def close(self) -> None:
        if self._made is not None:
            self._made.close()


def _reason(error: httpx.HTTPError) -> str:
    return str(error) or type(error).__name__


def problem_of(status: int, body: bytes) -> PortalProblem:
    """An answer that says no as an error; also one without problem details (RFC 9457)."""
    try:
        facts = msgspec.json.decode(body, type=dict[str, Any])
    except msgspec.MsgspecError:
        facts = {}
    detail = str(facts.get("detail") or f"The portal answered {status} without saying why.")
    return PortalProblem(status, str(facts.get("code", "unknown")), detail, facts)
