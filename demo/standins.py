"""Stand-ins for the world outside, on loopback: a site with every kind of answer, the quayside gateway,
a receiver of webhooks and a receiver of mail.

usage: standins.py [PORT [MAIL_PORT]]; prints what arrives
"""

from __future__ import annotations

import json
import socket
import ssl
import subprocess
import sys
import tempfile
import threading
import time
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any
from urllib.parse import parse_qsl, unquote, urlsplit

import gateway
from aiosmtpd.controller import Controller

PAGE = b'<!doctype html><html><body><h1 id="tides">Tides</h1><a name="rest">Rest</a></body></html>'


class Site(BaseHTTPRequestHandler):
    """Addresses that behave as their names say. Every request is kept in ``server.seen``."""

    def do_HEAD(self) -> None:
        """An answer without its body."""
        self._answer(with_body=False)

    def do_GET(self) -> None:
        """A page, or what the gateway says."""
        if self.path.startswith("/quayside/"):
            return self._ask_gateway(b"")
        self._answer(with_body=True)
        return None

    def do_PATCH(self) -> None:
        """What the gateway says."""
        self._ask_gateway(self.rfile.read(int(self.headers.get("Content-Length", "0"))))

    def do_DELETE(self) -> None:
        """What the gateway says."""
        self._ask_gateway(b"")

    def _ask_gateway(self, body: bytes) -> None:
        """What the services on the quayside answer; ``server.down`` names those that do not."""
        self.server.seen.append((self.command, self.path, dict(self.headers)))  # type: ignore[attr-defined]
        place = urlsplit(self.path)
        path = unquote(place.path).removeprefix("/quayside/")
        if path.partition("/")[0] in self.server.down:  # type: ignore[attr-defined]
            return self._send(502, {"Content-Type": "text/plain"}, b"The service does not answer.")
        changed = self.server.changed.get(path)  # type: ignore[attr-defined]
        if changed is not None:
            return self._send(200, {"Content-Type": "application/yaml"}, changed)
        headers = {k.lower(): v for k, v in self.headers.items()}
        status, given, value = gateway.answer(self.command, path, dict(parse_qsl(place.query)), headers, body)
        data = value if isinstance(value, bytes) else json.dumps(value).encode()
        return self._send(status, given, data)

    def _answer(self, *, with_body: bool) -> None:
        self.server.seen.append((self.command, self.path, dict(self.headers)))  # type: ignore[attr-defined]
        name = self.path.partition("?")[0].strip("/").split("/")
        moves = {
            "moved": (301, "/page"), "moved-twice": (308, "/moved"), "found": (302, "/page"),
            "circle": (301, "/circle-back"), "circle-back": (302, "/circle"), "moved-anchor": (301, "/page#tides"),
            "to-private": (302, "http://169.254.169.254/"), "to-gone": (301, "/gone"), "out-and-back": (301, "/found"),
        }  # fmt: skip
        if name[0] in moves:
            status, place = moves[name[0]]
            return self._send(status, {"Location": place})
        if name[0] == "endless":
            return self._send(302, {"Location": f"/endless/{int(name[-1]) + 1 if name[-1].isdigit() else 1}"})
        if name[0] == "robots.txt":
            return self._send(200, {"Content-Type": "text/plain"}, b"User-agent: *\nDisallow: /secret\n")
        if name[0] == "slow":
            time.sleep(3)
        if name[0] == "head-refused" and self.command == "HEAD":
            return self._send(405)
        if name[0] == "changes" and self.headers.get("If-None-Match") == '"one"':
            return self._send(304, {"ETag": '"one"'})
        status = {"missing": 404, "gone": 410, "broken": 500, "sign-in": 401, "busy": 429}.get(name[0], 200)
        self._send(status, {"Content-Type": "text/html", "ETag": '"one"'}, PAGE if with_body else b"")
        return None

    def do_POST(self) -> None:
        """Keep what was posted; for the gateway what it says."""
        body = self.rfile.read(int(self.headers.get("Content-Length", "0")))
        if self.path.startswith("/quayside/"):
            return self._ask_gateway(body)
        self.server.posts.append((self.path, {k.lower(): v for k, v in self.headers.items()}, body))  # type: ignore[attr-defined]
        refuse = self.server.refuse  # type: ignore[attr-defined]
        if refuse and refuse.pop(0):
            return self._send(503)
        self._send(204)
        return None

    def _send(self, status: int, headers: dict[str, str] | None = None, body: bytes = b"") -> None:
        self.send_response(status)
        for key, value in (headers or {}).items():
            self.send_header(key, value)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        if self.command != "HEAD":
            self.wfile.write(body)

    def log_message(self, *_: Any) -> None:
        """Say nothing."""
        return None


class Standins:
    """All of them, each on a free port of loopback. refuse: whether the next posts are refused."""

    def __init__(self, port: int = 0, mail_port: int = 0) -> None:
        self.site = self._serve(Site, port)
        self.secure = self._serve(Site, 0)
        self.secure.socket = _self_signed().wrap_socket(self.secure.socket, server_side=True)
        self.mails: list[Any] = []
        self.mailbox = Controller(_Mailbox(self.mails), hostname="127.0.0.1", port=mail_port or _free_port())
        self.mailbox.start()

    @property
    def url(self) -> str:
        """Where it answers."""
        return f"http://127.0.0.1:{self.site.server_port}"

    @property
    def secure_url(self) -> str:
        """Where it answers with a certificate that nobody trusts."""
        return f"https://127.0.0.1:{self.secure.server_port}"

    @property
    def posts(self) -> list[tuple[str, dict[str, str], bytes]]:
        """What was posted: path, headers and body."""
        return self.site.posts  # type: ignore[attr-defined, no-any-return]

    @property
    def seen(self) -> list[tuple[str, str, dict[str, str]]]:
        """What was asked: method, path and headers."""
        return self.site.seen  # type: ignore[attr-defined, no-any-return]

    def refuse(self, *answers: bool) -> None:
        """Whether the next posts are refused, one after the other."""
        self.site.refuse[:] = answers  # type: ignore[attr-defined]

    def stop(self) -> None:
        """End all of them."""
        self.mailbox.stop()
        for server in (self.site, self.secure):
            server.shutdown()
            server.server_close()

    @staticmethod
    def _serve(handler: type[BaseHTTPRequestHandler], port: int) -> ThreadingHTTPServer:
        server = ThreadingHTTPServer(("127.0.0.1", port), handler)
        server.posts, server.seen, server.refuse, server.down, server.changed = [], [], [], set(), {}  # type: ignore[attr-defined]
        threading.Thread(target=server.serve_forever, daemon=True).start()
        return server


class _Mailbox:
    def __init__(self, mails: list[Any]) -> None:
        self.mails = mails

    async def handle_DATA(self, _server: Any, _session: Any, envelope: Any) -> str:  # noqa: N802
        self.mails.append((envelope.rcpt_tos, envelope.content))
        return "250 taken"


def _free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


def _self_signed() -> ssl.SSLContext:
    """A certificate that nobody has signed, which is what it is for."""
    with tempfile.TemporaryDirectory() as folder:
        key, certificate = Path(folder, "key"), Path(folder, "certificate")
        subprocess.run(
            ["openssl", "req", "-x509", "-newkey", "rsa:2048", "-nodes", "-days", "2", "-subj", "/CN=127.0.0.1",
             "-keyout", str(key), "-out", str(certificate)], check=True, capture_output=True,
        )  # fmt: skip
        context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        context.load_cert_chain(certificate, key)
    return context


def main(port: int = 0, mail_port: int = 0) -> None:
    """Run them, and print what arrives."""
    standins = Standins(port, mail_port)
    print(f"site and webhooks: {standins.url}\nmail: 127.0.0.1:{standins.mailbox.port}", flush=True)
    told = [0, 0]
    while True:
        time.sleep(0.5)
        for path, _headers, body in standins.posts[told[0] :]:
            event = json.loads(body)
            print(f"event at {path}: {event.get('type')} of {event.get('subject')}", flush=True)
        for to, content in standins.mails[told[1] :]:
            print(f"mail to {', '.join(to)}\n{content.decode(errors='replace')}", flush=True)
        told = [len(standins.posts), len(standins.mails)]


if __name__ == "__main__":
    main(*map(int, sys.argv[1:]))
