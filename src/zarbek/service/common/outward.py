"""Requests to the world outside: never into a private network unless the settings allow its host."""

from __future__ import annotations

import fnmatch
import ipaddress
import socket
from collections.abc import Sequence

import httpx


class OutwardRefused(httpx.TransportError):
    """The address may not be asked for. The message says why."""


class AnswerTooLarge(httpx.TransportError):
    """An answer of more bytes than are read."""

    def __init__(self, limit: int) -> None:
        super().__init__(f"It is larger than {limit // 2**20} MiB")


class OutwardTransport(httpx.BaseTransport):
    """Looks a host up once, judges what it found, and connects to that very address: a name that
    answers differently the second time leads nowhere else."""

    def __init__(self, allowed: Sequence[str], *, verify: bool = True) -> None:
        """allowed: host names, ``*`` for any text, that may lie in a private network."""
        self._allowed = allowed
        self._inner = httpx.HTTPTransport(verify=verify, retries=0)

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        host = request.url.host
        address = resolve(host, self._allowed)
        headers = httpx.Headers(request.headers)
        headers.setdefault("Host", request.url.netloc.decode())
        pinned = httpx.Request(
            request.method, request.url.copy_with(host=address), headers=headers, stream=request.stream,
            extensions={**request.extensions, "sni_hostname": host},
        )  # fmt: skip
        return self._inner.handle_request(pinned)

    def close(self) -> None:
        self._inner.close()


def resolve(host: str, allowed: Sequence[str]) -> str:
    """The address of a host. Raises OutwardRefused for a host that is not known or private."""
    try:
        found = [str(info[4][0]).partition("%")[0] for info in socket.getaddrinfo(host, None, type=socket.SOCK_STREAM)]
    except (OSError, UnicodeError) as error:
        raise OutwardRefused(f"The host {host} is not known") from error
    if any(fnmatch.fnmatchcase(host.lower(), pattern) for pattern in allowed):
        return found[0]
    private = [a for a in found if not ipaddress.ip_address(a).is_global or ipaddress.ip_address(a).is_multicast]
    if private:
        raise OutwardRefused(f"{host} leads into a private network")
    return found[0]


def read_bounded(response: httpx.Response, limit: int) -> bytes:
    """The body of a streamed answer. Raises AnswerTooLarge as soon as it is longer than the limit."""
    data = bytearray()
    for chunk in response.iter_bytes():
        data += chunk
        if len(data) > limit:
            raise AnswerTooLarge(limit)
    return bytes(data)
