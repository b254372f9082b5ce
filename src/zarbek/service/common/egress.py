"""Requests to the world outside: never into a private network unless the settings allow its host,
each within a total time and a total size, whatever the other side does."""

from __future__ import annotations

import time
import urllib.request
from collections.abc import Callable, Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextvars import ContextVar
from typing import Any, TypeVar

import httpcore
import httpx

from zarbek.core.material.network_addresses import HostRefused, resolve

T = TypeVar("T")
R = TypeVar("R")
#: Of a whole request, from the look-up of its host to the last byte of its answer.
TOTAL_S = 60.0
#: Of all that comes over one connection, heads included, before it is unpacked.
MAX_RAW_BYTES = 64 * 2**20
#: Requests that run beside one another.
BESIDE = 8
_until: ContextVar[float] = ContextVar("until", default=float("inf"))


class EgressRefused(httpx.TransportError):
    """The address may not be asked for. The message says why; is_known: whether the host has an address."""

    def __init__(self, message: str, *, is_known: bool) -> None:
        super().__init__(message)
        self.is_known = is_known


class AnswerTooLarge(httpx.TransportError):
    """An answer of more bytes than are read."""

    def __init__(self, limit: int) -> None:
        super().__init__(f"It is larger than {limit // 2**20} MiB")


class EgressTransport(httpx.BaseTransport):
    """Looks a host up once, judges what it found, and connects to that very address: a name that
    answers differently the second time leads nowhere else. Every request has a connection of its own.

    Where the environment names a proxy (``HTTPS_PROXY``, ``NO_PROXY`` and their like), that one is asked:
    it looks up hosts that are not known here; those that are, and may not be asked, are refused here.
    """

    def __init__(self, allowed: Sequence[str], *, total_s: float = TOTAL_S, max_bytes: int = MAX_RAW_BYTES) -> None:
        """allowed: host names, ``*`` for any text, that may lie in a private network."""
        self._allowed, self._total_s, self._max_bytes = allowed, total_s, max_bytes
        self._ways: dict[str, _Way] = {}

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        """Send a request within its time, and only to a host that may be asked. Raises httpx.TransportError."""
        _until.set(time.monotonic() + self._total_s)
        proxy = proxy_for(request.url)
        if proxy:
            self._refuse_private(request.url.host)
        return self._way(proxy).handle_request(request)

    def close(self) -> None:
        """End its connections."""
        for way in self._ways.values():
            way.close()

    def _way(self, proxy: str) -> _Way:
        if proxy not in self._ways:
            allowed = ("*",) if proxy else self._allowed  # Whoever set up the proxy chose its place.
            self._ways[proxy] = _Way(_Net(allowed, self._max_bytes), proxy)
        return self._ways[proxy]

    def _refuse_private(self, host: str) -> None:
        try:
            resolve(host, self._allowed)
        except HostRefused as error:
            if error.is_known:
                raise EgressRefused(str(error), is_known=True) from error


def proxy_for(url: httpx.URL) -> str:
    """The address of the proxy that the environment names for an address, or empty."""
    proxies = urllib.request.getproxies_environment()
    if urllib.request.proxy_bypass_environment(url.host, proxies):
        return ""
    return proxies.get(url.scheme) or proxies.get("all") or ""


class _Way(httpx.HTTPTransport):
    """Straight, or by a proxy."""

    def __init__(self, net: _Net, proxy: str) -> None:
        super().__init__(trust_env=False)
        # httpx has no door for this: the pool that it made is replaced by one that reaches the net our way.
        self._pool.close()
        context = httpx.create_ssl_context()
        if not proxy:
            self._pool = httpcore.ConnectionPool(
                ssl_context=context, max_keepalive_connections=0, network_backend=net
            )  # fmt: skip
            return
        by = httpx.Proxy(proxy)
        self._pool = httpcore.HTTPProxy(
            str(by.url), by.raw_auth, ssl_context=context, max_keepalive_connections=0, network_backend=net
        )  # fmt: skip


class _Net(httpcore.SyncBackend):
    def __init__(self, allowed: Sequence[str], max_bytes: int) -> None:
        self._allowed, self._max_bytes = allowed, max_bytes

    def connect_tcp(self, host: str, port: int, **options: Any) -> httpcore.NetworkStream:
        try:
            address = resolve(host, self._allowed)
        except HostRefused as error:
            raise EgressRefused(str(error), is_known=error.is_known) from error
        return _Stream(super().connect_tcp(address, port, **options), _until.get(), self._max_bytes)


class _Stream(httpcore.NetworkStream):
    """A connection that ends at a point in time and after so many bytes."""

    def __init__(self, inner: httpcore.NetworkStream, until: float, max_bytes: int) -> None:
        self._inner, self._until, self._left, self._limit = inner, until, max_bytes, max_bytes

    def _time_left(self, timeout: float | None) -> float:
        left = self._until - time.monotonic()
        if left <= 0:
            raise httpcore.ReadTimeout("it takes too long in all")
        return min(left, timeout) if timeout is not None else left

    def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        data = self._inner.read(max_bytes, self._time_left(timeout))
        self._left -= len(data)
        if self._left < 0:
            raise AnswerTooLarge(self._limit)
        return data

    def write(self, buffer: bytes, timeout: float | None = None) -> None:
        self._inner.write(buffer, self._time_left(timeout))

    def close(self) -> None:
        self._inner.close()

    def start_tls(
        self, ssl_context: Any, server_hostname: str | None = None, timeout: float | None = None
    ) -> httpcore.NetworkStream:
        inner = self._inner.start_tls(ssl_context, server_hostname, self._time_left(timeout))
        return _Stream(inner, self._until, self._left)

    def get_extra_info(self, info: str) -> Any:
        return self._inner.get_extra_info(info)


def get_bounded(
    http: httpx.Client, address: str, *, limit: int, method: str = "GET", headers: Mapping[str, str] | None = None,
    content: bytes | None = None, may_cut: bool = False,
) -> httpx.Response:  # fmt: skip
    """An answer that has been read, of at most so many bytes once unpacked.

    may_cut: keep what fits of a longer one. Raises AnswerTooLarge for it otherwise, and what httpx raises.
    """
    asked = {"Accept-Encoding": "identity", **(headers or {})}
    with http.stream(method, address, headers=asked, content=content) as response:
        data = bytearray()
        for chunk in response.iter_bytes(65_536) if method != "HEAD" else ():
            data += chunk
            if len(data) > limit:
                if may_cut:
                    break
                raise AnswerTooLarge(limit)
    read = {k: v for k, v in response.headers.items() if k.lower() not in ("content-encoding", "content-length")}
    return httpx.Response(response.status_code, headers=read, content=bytes(data[:limit]), request=response.request)


def beside(work: Callable[[T], R], items: Iterable[T]) -> list[R]:
    """Do the same for each, several at once, so that a slow one holds up no other; in their order.

    The work may not touch the database: its threads have no place among its connections.
    """
    with ThreadPoolExecutor(BESIDE, thread_name_prefix="outward") as pool:
        return list(pool.map(work, items))
