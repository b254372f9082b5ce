"""One web process at a socket that whoever started it has opened.

usage: python -m zarbek.service.web.server DESCRIPTOR
"""

from __future__ import annotations

import os
import resource
import socket
import sys
from typing import Any

import uvicorn
from django.conf import settings
from uvicorn.protocols.http.httptools_impl import HttpToolsProtocol

#: Of a request's line and headers together, and the seconds in which they must be here.
MAX_HEAD_BYTES = 64 * 2**10
HEAD_WITHIN_S = 20.0
#: Of one process, most of them pages that watch a run; files that it has open besides.
MOST_CONNECTIONS, _OTHER_FILES = 12_000, 500
#: What the loop reads at once may hold the beginning of a body.
_ONE_READ = 2**18
_TOO_LARGE = b"HTTP/1.1 431 Request Header Fields Too Large\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"
_TOO_SLOW = b"HTTP/1.1 408 Request Timeout\r\nContent-Length: 0\r\nConnection: close\r\n\r\n"


class BoundedHead(HttpToolsProtocol):
    """A request's head has a size and a time (RFC 9110, section 15.5.9; RFC 6585, section 5)."""

    _raw = _head = 0
    _timer: Any = None

    def connection_made(self, transport: Any) -> None:
        """Begin to wait for the head of a request."""
        super().connection_made(transport)
        self._await_head()

    def _await_head(self) -> None:
        self._raw = self._head = 0
        if self._timer is None:
            self._timer = self.loop.call_later(HEAD_WITHIN_S, self._give_up, _TOO_SLOW)

    def data_received(self, data: bytes) -> None:
        """Take bytes in, as long as the head is not too long."""
        if self._timer is None and self.cycle is not None and self.cycle.response_complete:
            self._await_head()  # The next request of the same connection.
        if self._timer is not None:
            self._raw += len(data)
            if self._raw > MAX_HEAD_BYTES + _ONE_READ:
                self._give_up(_TOO_LARGE)
                return
        super().data_received(data)

    def on_header(self, name: bytes, value: bytes) -> None:
        """Count a header's bytes."""
        super().on_header(name, value)
        self._head += len(name) + len(value)
        if self._head > MAX_HEAD_BYTES:
            self._give_up(_TOO_LARGE)

    def on_headers_complete(self) -> None:
        """The head is there in time."""
        self._end_timer()
        super().on_headers_complete()

    def connection_lost(self, exc: Exception | None) -> None:
        """Wait no longer."""
        self._end_timer()
        super().connection_lost(exc)

    def _end_timer(self) -> None:
        if self._timer is not None:
            self._timer.cancel()
            self._timer = None

    def _give_up(self, answer: bytes) -> None:
        self._end_timer()
        if not self.transport.is_closing():
            self.transport.write(answer)
            self.transport.close()


def send_at_once(descriptor: int) -> None:
    """Have what is accepted at a listening socket send each piece of an answer without waiting for the last one to be
    acknowledged, which takes 40 ms on a connection that is kept (RFC 9293, section 3.7.4)."""
    listening = socket.socket(fileno=descriptor)
    listening.setsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY, 1)
    listening.detach()


def allow_many() -> int:
    """Let the process have as many files open as the system lets it; the connections for which that leaves room."""
    _, most = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))
    return MOST_CONNECTIONS if most == resource.RLIM_INFINITY else min(MOST_CONNECTIONS, max(most - _OTHER_FILES, 100))


def main(descriptor: str) -> None:
    """Serve on a socket; descriptor: its file descriptor."""
    send_at_once(int(descriptor))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
    uvicorn.run(
        "zarbek.service.web.asgi:application", fd=int(descriptor), http=BoundedHead, loop="uvloop",
        log_level="warning", access_log=False, server_header=False, lifespan="off", ws="none",
        proxy_headers=bool(settings.PROXIES), forwarded_allow_ips=settings.PROXIES or None,
        timeout_keep_alive=15, timeout_graceful_shutdown=3, limit_concurrency=allow_many(),
    )  # fmt: skip


if __name__ == "__main__":
    main(sys.argv[1])
