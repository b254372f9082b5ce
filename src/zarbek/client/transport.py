"""The one way to the network: requests, retries, and errors with their problem details."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any
from urllib.parse import unquote, urlencode, urlsplit

import msgspec
import urllib3

from zarbek.client.errors import PortalProblem, PortalUnreachable, TokenUnreadable

_BUSY_STATUS = frozenset({502, 503, 504})
_SAFE = frozenset({"GET", "HEAD"})
#: Seconds between attempts, at most.
_WAIT_MAX_S = 5
#: Connections that are kept, for programs that ask from several threads.
_KEPT = 10


class HttpTransport:
    """url: the portal's address. timeout_s: for connecting and between bytes. pool: connections of one's own, with
    authorities or proxies of one's own. Raises TokenUnreadable, and PortalUnreachable for a proxy that is none of
    HTTP."""

    def __init__(
        self, url: str, token: str = "", *, timeout_s: float = 30.0, attempts: int = 3,
        pool: urllib3.PoolManager | None = None,
    ) -> None:  # fmt: skip
        token = token.strip()  # A file's last line end, mostly.
        if not (token.isascii() and token.isprintable()) or " " in token:
            raise TokenUnreadable
        self.url, self.timeout_s, self.attempts = url.rstrip("/"), timeout_s, attempts
        self._headers = {"Accept": "application/json", "Accept-Encoding": "gzip", "User-Agent": "zarbek-client"}
        if token:
            self._headers["Authorization"] = f"Bearer {token}"
        self._pool = pool or _pool_for(self.url)

    def close(self) -> None:
        """End its connections."""
        self._pool.clear()

    def call(self, method: str, path: str, *, params: dict[str, Any] | None = None, json: Any = None,
             content: bytes | None = None, headers: dict[str, str] | None = None) -> bytes:  # fmt: skip
        """The body of a 2xx answer. json, content: of the request, one of them. Raises PortalProblem or
        PortalUnreachable.

        Reads, and writes with an Idempotency-Key, are tried again when the portal is busy.
        """
        is_safe = method in _SAFE or "Idempotency-Key" in (headers or {})
        address = self.url + path + (f"?{urlencode(params)}" if params else "")
        body = content if json is None else msgspec.json.encode(json)
        kind = {} if json is None else {"Content-Type": "application/json"}
        try:
            response = self._pool.request(
                method, address, body=body, headers={**self._headers, **kind, **(headers or {})},
                timeout=self.timeout_s, retries=_attempts(self.attempts if is_safe else 1),
            )  # fmt: skip
        except urllib3.exceptions.HTTPError as error:
            raise PortalUnreachable(self.url, _reason(error)) from error
        if 200 <= response.status < 300:
            return response.data
        raise problem_of(response.status, response.data)

    @contextmanager
    def stream(self, path: str, accept: str) -> Iterator[urllib3.BaseHTTPResponse]:
        """An answer read as it comes, without a limit on its length in time."""
        try:
            response = self._pool.request(
                "GET", self.url + path, headers={**self._headers, "Accept": accept}, preload_content=False,
                timeout=urllib3.Timeout(connect=self.timeout_s, read=None), retries=_attempts(1),
            )  # fmt: skip
            try:
                if response.status >= 300:
                    raise problem_of(response.status, response.data)
                yield response
            finally:
                response.close()
        except urllib3.exceptions.HTTPError as error:
            raise PortalUnreachable(self.url, _reason(error)) from error


def _attempts(many: int) -> urllib3.Retry:
    """So many in all; redirections are followed besides. What the last one answers is the answer."""
    again = many - 1
    return urllib3.Retry(
        None, connect=again, read=again, status=again, other=0, redirect=5, allowed_methods=None,
        status_forcelist=_BUSY_STATUS, raise_on_status=False, backoff_factor=0.1, backoff_jitter=0.1,
        backoff_max=_WAIT_MAX_S, retry_after_max=_WAIT_MAX_S,
    )  # fmt: skip


def _pool_for(url: str) -> urllib3.PoolManager:
    """Connections by way of the proxy that the environment names for an address, if any. Raises PortalUnreachable for
    an address that is none, and for a proxy that is none of HTTP."""
    if not any(name.lower().endswith("_proxy") for name in os.environ):
        return urllib3.PoolManager(maxsize=_KEPT)
    from urllib.request import getproxies, proxy_bypass

    try:
        place = urllib3.util.parse_url(url)
    except urllib3.exceptions.LocationParseError as error:
        raise PortalUnreachable(url, _reason(error)) from error
    proxies = getproxies()
    proxy = proxies.get(place.scheme or "") or proxies.get("all")
    if not proxy or proxy_bypass(place.host or ""):
        return urllib3.PoolManager(maxsize=_KEPT)
    account = urlsplit(proxy if "://" in proxy else f"http://{proxy}")
    if account.scheme not in ("http", "https"):
        raise PortalUnreachable(url, f"the proxy {account.hostname} speaks {account.scheme}, not HTTP")
    secrets = f"{unquote(account.username)}:{unquote(account.password or '')}" if account.username else None
    return urllib3.ProxyManager(
        f"{account.scheme}://{account.netloc.rpartition('@')[2]}", maxsize=_KEPT,
        proxy_headers=urllib3.make_headers(proxy_basic_auth=secrets),
    )  # fmt: skip


def _reason(error: urllib3.exceptions.HTTPError) -> str:
    """What went wrong, as the system said it where it was asked."""
    found = error.reason if isinstance(error, urllib3.exceptions.MaxRetryError) and error.reason else error
    cause = found.__cause__
    told = str(cause) if isinstance(cause, OSError) and str(cause) else str(found) or type(found).__name__
    return told.rstrip(".")


def problem_of(status: int, body: bytes) -> PortalProblem:
    """An answer that says no as an error; also one without problem details (RFC 9457)."""
    try:
        facts = msgspec.json.decode(body, type=dict[str, Any])
    except msgspec.MsgspecError:
        facts = {}
    detail = str(facts.get("detail") or f"The portal answered {status} without saying why.")
    return PortalProblem(status, str(facts.get("code", "unknown")), detail, facts)
