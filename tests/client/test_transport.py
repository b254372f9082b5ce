"""The one way to the network, with a server that answers as it is told."""

import json
import threading
import unittest
from base64 import b64encode
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from unittest import mock

from zarbek.client import Portal, PortalProblem, PortalUnreachable
from zarbek.client.errors import TokenUnreadable


class _Handler(BaseHTTPRequestHandler):
    protocol_version = "HTTP/1.1"

    def answer(self):
        self.body = self.rfile.read(int(self.headers.get("Content-Length", "0")))
        told = self.server.answer(self)
        if told is None:  # The line breaks.
            self.close_connection = True
            return
        status, body, *headers = told
        data = body if isinstance(body, bytes) else json.dumps(body).encode()
        self.send_response(status)
        for name, value in {"Content-Length": str(len(data)), **(headers[0] if headers else {})}.items():
            self.send_header(name, value)
        self.end_headers()
        self.wfile.write(data)

    def log_message(self, *_):
        pass


for _method in ("GET", "POST", "PUT", "DELETE"):
    setattr(_Handler, f"do_{_method}", _Handler.answer)


@contextmanager
def portal(answer, token="t", **options):
    """A client of a server that answers by a function of the request: status, body and perhaps headers."""
    server = ThreadingHTTPServer(("127.0.0.1", 0), _Handler)
    server.answer = answer
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        with Portal(f"http://127.0.0.1:{server.server_port}", token, **options) as client:
            yield client
    finally:
        server.shutdown()
        server.server_close()


class Transport(unittest.TestCase):
    def test_problems_carry_their_details(self):
        def refuse(request):
            self.assertEqual(request.headers["Authorization"], "Bearer t")
            return 409, {"detail": "No.", "code": "conflict", "elsewhere": "/x"}

        with portal(refuse) as client, self.assertRaises(PortalProblem) as caught:
            client.project("p")
        self.assertEqual(
            (caught.exception.status, caught.exception.code, str(caught.exception)), (409, "conflict", "No.")
        )
        self.assertEqual(caught.exception.facts["elsewhere"], "/x")

    def test_a_token_loses_its_line_end_and_is_never_told(self):
        sent = []

        def note(request):
            sent.append(request.headers.get("Authorization"))
            return 200, []

        for token in (" zk_secret\n", "zk_secret\r\n"):
            with portal(note, token) as client:
                client.search("x")
        self.assertEqual(sent, ["Bearer zk_secret"] * 2)
        for token in ("zk_secret\nsecond", "zk_sécret", "zk secret", "zk_secret\0"):
            with self.subTest(token), self.assertRaises(TokenUnreadable) as caught:
                Portal("http://portal.test", token)
            self.assertNotIn("cret", str(caught.exception))

    def test_an_answer_without_details_still_says_something(self):
        why = "answered 500 without saying why"
        with portal(lambda _: (500, b"<html>")) as client, self.assertRaisesRegex(PortalProblem, why):
            client.project("p")

    def test_reads_are_tried_again_when_the_portal_is_busy(self):
        seen = []

        def busy_once(request):
            seen.append(request.path)
            return (503, b"", {"Retry-After": "0"}) if len(seen) == 1 else (200, [])

        with portal(busy_once) as client:
            self.assertEqual(client.search("x"), [])
        self.assertEqual([path.partition("?")[0] for path in seen], ["/api/v1/search"] * 2)

    def test_a_portal_that_stays_busy_says_so_itself(self):
        seen = []

        def busy(request):
            seen.append(request)
            return 503, {"detail": "The database is busy.", "code": "unavailable"}

        with portal(busy) as client, self.assertRaisesRegex(PortalProblem, r"^The database is busy\.$"):
            client.search("x")
        self.assertEqual(len(seen), 3)

    def test_a_connection_that_breaks_is_tried_again_for_reads_only(self):
        seen = []

        def breaks(request):
            seen.append(request.command)
            return (200, []) if seen == ["GET", "GET"] else None

        with portal(breaks) as client:
            self.assertEqual(client.search("x"), [])
            with self.assertRaises(PortalUnreachable):
                client.create_token("x")
        self.assertEqual(seen, ["GET", "GET", "POST"])

    def test_writes_are_tried_again_only_with_a_key(self):
        seen = []

        def busy(request):
            seen.append(request.headers.get("Idempotency-Key"))
            return 503, b""

        with portal(busy) as client:
            with self.assertRaises(PortalProblem):
                client.create_token("x")
            self.assertEqual(seen, [None])
            with self.assertRaises(PortalProblem):
                client._transport.call("POST", "/x", content=b"bundle", headers={"Idempotency-Key": "k"})
        self.assertEqual(seen, [None, "k", "k", "k"])

    def test_what_is_sent(self):
        sent = []

        def note(request):
            sent.append((request.path, request.headers["Content-Type"], request.body))
            return 200, []

        with portal(note) as client:
            client.search("a b&c/ä", kind="class")
            client.set_quiet_hosts(["a.example"])
        self.assertEqual(sent, [
            ("/api/v1/search?q=a+b%26c%2F%C3%A4&kind=class&limit=20", None, b""),
            ("/api/v1/addresses/quiet", "application/json", b'["a.example"]'),
        ])  # fmt: skip

    def test_redirections_are_followed_and_the_token_stays_with_the_portal(self):
        seen = []

        def elsewhere(request):
            seen.append(request.headers.get("Authorization"))
            return 200, []

        with portal(elsewhere) as other:
            here = portal(lambda _: (308, b"", {"Location": f"{other.url}/api/v1/search"}))
            with here as client:
                self.assertEqual(client.search("x"), [])
        self.assertEqual(seen, [None])

    def test_no_answer_is_an_error_of_its_own_and_says_why(self):
        with portal(lambda _: (200, [])) as client:
            url = client.url
        with self.assertRaisesRegex(PortalUnreachable, rf"^{url} does not answer: \[Errno 111\] Connection refused\. "):
            Portal(url).revoke_token(1)
        with self.assertRaisesRegex(PortalUnreachable, "does not answer: .*Name or service not known"):
            Portal("http://portal.invalid").search("x")

    def test_pages_are_fetched_as_they_are_asked_for(self):
        asked = []

        def pages(request):
            query = request.path.partition("?")[2]
            asked.append(query)
            more = "/api/v1/names?cursor=b" if "cursor" not in query else None
            claim = {
                "name": f"sea{len(asked)}",
                "project": "p",
                "held": True,
                "shared": False,
                "since": "2026-11-02T00:00:00Z",
                "decided_by": "",
            }
            return 200, {"items": [claim], "total": 2, "next": more}

        with portal(pages) as client:
            rows = client.names("p")
            self.assertEqual((next(rows).name, asked), ("sea1", ["limit=500&project=p"]))
            self.assertEqual(([row.name for row in rows], asked), (["sea2"], ["limit=500&project=p", "cursor=b"]))

    def test_streams_are_read_as_they_come(self):
        with portal(lambda _: (200, b'{"a": 1}\n{"b": "\xc3\xa4"}\n')) as client:
            self.assertEqual(list(client.links("sea")), ['{"a": 1}', '{"b": "ä"}'])
        line = {"at": "2026-11-02T09:00:00Z", "level": "info", "text": "Linked."}
        events = f": still here\n\nevent: log\ndata: {json.dumps(line)}\n\n".encode()
        with portal(lambda _: (200, events)) as client:
            self.assertEqual([said.text for said in client.watch(7)], ["Linked."])
        told = {"detail": "There is no run 7."}
        with portal(lambda _: (404, told)) as client, self.assertRaisesRegex(PortalProblem, told["detail"]):
            next(client.watch(7))


class Ways(unittest.TestCase):
    def test_the_environment_names_the_proxy(self):
        asked = []

        def proxy(request):
            asked.append((request.path, request.headers.get("Proxy-Authorization")))
            return 200, []

        with portal(proxy) as other:
            place = other.url.removeprefix("http://")
            for environment in ({"http_proxy": f"http://ada:se%3Acret@{place}"}, {"HTTP_PROXY": place}):
                with mock.patch.dict("os.environ", environment, clear=True):
                    self.assertEqual(Portal("http://portal.example:8080").search("x"), [])
            environment = {"http_proxy": other.url, "no_proxy": ".invalid"}
            with mock.patch.dict("os.environ", environment, clear=True), self.assertRaises(PortalUnreachable):
                Portal("http://portal.invalid").search("x")
        address = "http://portal.example:8080/api/v1/search?q=x&limit=20"
        self.assertEqual(asked, [(address, f"Basic {b64encode(b'ada:se:cret').decode()}"), (address, None)])

    def test_what_is_no_address_of_the_web_is_told(self):
        for url in ("http://[::1", "http://", "ftp://x", "http://x:99999", "nonsense", "file:///etc", "http://a b"):
            with self.subTest(url), self.assertRaises(PortalUnreachable) as caught:
                Portal(url).search("x")
            self.assertRegex(str(caught.exception), r"does not answer: .*[^.]\. Is ZARBEK_URL right\?$")

    def test_an_opener_of_ones_own(self):
        from urllib.request import HTTPHandler, OpenerDirector

        opener = OpenerDirector()
        opener.add_handler(HTTPHandler())
        with portal(lambda _: (200, []), opener=opener) as client:
            self.assertEqual(client.search("x"), [])

    def test_several_threads_may_ask(self):
        from concurrent.futures import ThreadPoolExecutor

        with portal(lambda request: (200, [])) as client, ThreadPoolExecutor(8) as threads:
            self.assertEqual(list(threads.map(client.search, "abcdefgh")), [[]] * 8)


if __name__ == "__main__":
    unittest.main()
