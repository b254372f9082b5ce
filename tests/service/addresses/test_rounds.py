"""One pass over addresses, against sites that are made here."""

import unittest
from unittest import mock

import httpx

from tests.support.inprocess import connected


class Robots(unittest.TestCase):
    """Robots Exclusion Protocol (RFC 9309)."""

    @classmethod
    def setUpClass(cls):
        connected()

    def ask(self, robots, *paths):
        """(for each path whether it was left alone, the paths of our site that were asked)"""
        from zarbek.service.addresses.models import UrlCheck
        from zarbek.service.addresses.rounds import UrlChecker

        seen = []

        def answer(request):
            seen.append(f"{request.url.host}{request.url.raw_path.decode()}")
            if request.url.path == "/robots.txt":
                return robots(request) if callable(robots) else robots
            return httpx.Response(200, text="here")

        with UrlChecker(transport=httpx.MockTransport(answer), sleep=mock.Mock()) as checker:
            asked = [checker.ask(UrlCheck(url=f"https://halmere.example{path}")) for path in paths]
        return [a.answer.is_left_alone for a in asked], seen, asked

    def test_wildcards_and_the_longest_rule_count(self):
        rules = "User-agent: *\nDisallow: /*.pdf$\nDisallow: /private\nAllow: /private/open\n"
        left, seen, _ = self.ask(
            httpx.Response(200, text=rules), "/a.pdf", "/a.pdf.html", "/private/x", "/private/open/x"
        )
        self.assertEqual(left, [True, False, True, False])
        self.assertEqual(seen.count("halmere.example/robots.txt"), 1)

    def test_rules_for_us_stand_before_those_for_everybody(self):
        rules = "User-agent: *\nDisallow: /\n\nUser-agent: zarbeklinks\nDisallow: /drafts\n"
        self.assertEqual(self.ask(httpx.Response(200, text=rules), "/page", "/drafts/1")[0], [False, True])

    def test_absent_rules_forbid_nothing_and_a_servers_fault_all(self):
        for status, is_left in ((404, False), (403, False), (500, True), (503, True)):
            with self.subTest(status):
                self.assertEqual(self.ask(httpx.Response(status), "/page")[0], [is_left])

    def test_redirects_of_the_rules_are_followed(self):
        def moved(request):
            if request.url.host == "halmere.example":
                return httpx.Response(301, headers={"Location": "https://rules.example/robots.txt"})
            return httpx.Response(200, text="User-agent: *\nDisallow: /no\n")

        left, seen, _ = self.ask(moved, "/no", "/yes")
        self.assertEqual(left, [True, False])
        self.assertEqual(seen, ["halmere.example/robots.txt", "rules.example/robots.txt", "halmere.example/yes"])

    def test_a_site_that_does_not_answer_is_asked_once(self):
        tried = []

        def dead(request):
            tried.append(request.url.path)
            raise httpx.ConnectTimeout("late", request=request)

        left, seen, asked = self.ask(dead, "/one", "/two")
        self.assertEqual((left, tried), ([False, False], ["/robots.txt"]))
        self.assertEqual([a.answer.trouble for a in asked], ["does not answer in time"] * 2)
        self.assertEqual(seen, ["halmere.example/robots.txt"])


if __name__ == "__main__":
    unittest.main()
