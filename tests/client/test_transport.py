"""The one door to the network, with answers made up."""

import unittest

import httpx

from zarbek.client import Portal, PortalProblem, PortalUnreachable
from zarbek.client.errors import TokenUnreadable


def portal(handler, token="t"):
    return Portal("http://portal.test", token, transport=httpx.MockTransport(handler))


class Transport(unittest.TestCase):
    def test_problems_carry_their_details(self):
        def refuse(request):
            self.assertEqual(request.headers["Authorization"], "Bearer t")
            return httpx.Response(409, json={"detail": "No.", "code": "conflict", "elsewhere": "/x"})

        with self.assertRaises(PortalProblem) as caught:
            portal(refuse).project("p")
        self.assertEqual(
            (caught.exception.status, caught.exception.code, str(caught.exception)), (409, "conflict", "No.")
        )
        self.assertEqual(caught.exception.facts["elsewhere"], "/x")

    def test_a_token_loses_its_line_end_and_is_never_told(self):
        sent = []

        def note(request):
            sent.append(request.headers.get("Authorization"))
            return httpx.Response(200, json=[])

        for token in (" zk_secret\n", "zk_secret\r\n"):
            portal(note, token).search("x")
        self.assertEqual(sent, ["Bearer zk_secret"] * 2)
        for token in ("zk_secret\nsecond", "zk_sécret", "zk secret", "zk_secret\0"):
            with self.subTest(token), self.assertRaises(TokenUnreadable) as caught:
                portal(note, token)
            self.assertNotIn("cret", str(caught.exception))

    def test_an_answer_without_details_still_says_something(self):
        with self.assertRaisesRegex(PortalProblem, "answered 500 without saying why"):
            portal(lambda _: httpx.Response(500, text="<html>")).project("p")

    def test_reads_are_tried_again_when_the_portal_is_busy(self):
        seen = []

        def busy_once(request):
            seen.append(request.url.path)
            return httpx.Response(503) if len(seen) == 1 else httpx.Response(200, json=[])

        self.assertEqual(portal(busy_once).search("x"), [])
        self.assertEqual(len(seen), 2)

    def test_writes_without_a_key_are_not_tried_again(self):
        seen = []

        def busy(request):
            seen.append(request)
            return httpx.Response(503)

        with self.assertRaises(PortalProblem):
            portal(busy).create_token("x")
        self.assertEqual(len(seen), 1)

    def test_no_answer_is_an_error_of_its_own(self):
        def fail(request):
            raise httpx.ConnectError("refused")

        with self.assertRaisesRegex(PortalUnreachable, r"http://portal.test does not answer: refused"):
            portal(fail).revoke_token(1)

    def test_pages_are_fetched_as_they_are_asked_for(self):
        asked = []

        def pages(request):
            asked.append(str(request.url.query, "ascii"))
            more = "/api/v1/names?cursor=b" if b"cursor" not in request.url.query else None
            claim = {
                "name": f"sea{len(asked)}",
                "project": "p",
                "held": True,
                "shared": False,
                "since": "2026-11-02T00:00:00Z",
                "decided_by": "",
            }
            return httpx.Response(200, json={"items": [claim], "total": 2, "next": more})

        rows = portal(pages).names("p")
        self.assertEqual((next(rows).name, asked), ("sea1", ["project=p"]))
        self.assertEqual(([row.name for row in rows], asked), (["sea2"], ["project=p", "cursor=b"]))


if __name__ == "__main__":
    unittest.main()
