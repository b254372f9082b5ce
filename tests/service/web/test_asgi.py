"""Requests are taken in as a whole, within bounds of time and size, or refused with a reason."""

import asyncio
import errno
import os
import tempfile
import unittest
from unittest import mock

os.environ.setdefault("DJANGO_SETTINGS_MODULE", "zarbek.service.settings")
os.environ.setdefault("ZARBEK_HOME", tempfile.mkdtemp(prefix="zarbek-asgi-"))

from zarbek.service.web import asgi


async def echo(scope, receive, send):
    """Says how large the body was."""
    size, more = 0, True
    while more:
        message = await receive()
        size, more = size + len(message["body"]), message["more_body"]
    headers = dict(scope["headers"])
    await send({"type": "http.response.start", "status": 200, "headers": []})
    await send(
        {
            "type": "http.response.body",
            "body": f"{size} {headers.get(b'content-length', b'').decode()} {scope['query_string'].decode()}".encode(),
        }
    )


def ask(*messages, path="/api/v1/runs", headers=(), query=b""):
    """(status, body) of a request that comes in these messages; (0, b"") for no answer."""
    waiting, sent = list(messages), []

    async def receive():
        if not waiting:
            await asyncio.sleep(3600)
        return waiting.pop(0)

    async def send(message):
        sent.append(message)

    scope = {"type": "http", "path": path, "method": "POST", "headers": list(headers), "query_string": query}
    asyncio.run(asgi.Buffered(echo)(scope, receive, send))
    return (sent[0]["status"], b"".join(m.get("body", b"") for m in sent[1:])) if sent else (0, b"")


def piece(data, more=False):
    return {"type": "http.request", "body": data, "more_body": more}


class TakingIn(unittest.TestCase):
    def test_chunks_become_one_body_of_known_length(self):
        self.assertEqual(ask(piece(b"a" * 5, True), piece(b"b" * 7)), (200, b"12 12 "))

    def test_a_query_that_is_no_ascii_becomes_one(self):
        self.assertEqual(ask(piece(b""), query=b"q=\xff&r=a%20b")[1], b"0  q=%FF&r=a%20b")

    def test_what_ends_early_gets_no_further(self):
        self.assertEqual(ask(piece(b"a", True), {"type": "http.disconnect"}), (0, b""))
        self.assertEqual(ask(piece(b"abc"), headers=[(b"content-length", b"99")])[0], 400)

    def test_bounds_of_size(self):
        with mock.patch.object(asgi, "MAX_BODY_BYTES", 10):
            self.assertEqual(ask(piece(b"a" * 11), path="/api/v1/session")[0], 413)
            self.assertEqual(ask(piece(b"a" * 11))[0], 200)  # An upload has a bound of its own.

    def test_bounds_of_time(self):
        with mock.patch.object(asgi, "_GRACE_S", 0.05):
            self.assertEqual(ask(piece(b"a", True))[0], 408)

    def test_a_disk_that_takes_no_more_is_told_as_such(self):
        for number, status in ((errno.ENOSPC, 507), (errno.EDQUOT, 507), (errno.EROFS, 503), (errno.EIO, 503)):
            with (
                self.subTest(number),
                mock.patch("tempfile.SpooledTemporaryFile.write", side_effect=OSError(number, "no")),
            ):
                found = ask(piece(b"a"))
                self.assertEqual(found[0], status)
                self.assertIn(b"administrator", found[1])


if __name__ == "__main__":
    unittest.main()
