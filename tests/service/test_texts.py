"""Addresses on pages, without a database."""

import unittest

from zarbek.core.linking.linker import Link
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.service.console.texts import Texts, href_of


class Addresses(unittest.TestCase):
    def test_every_kind_of_target(self):
        cases = {
            "/ref/p/1.0/p.f": Link("linked", "symbol", "p", "1.0", "p.f"),
            "/guide/p/1.0/a/b#c": Link("linked", "page", "p", "1.0", "a/b", "c"),
            "/projects/p": Link("linked", "project", "p", "1.0"),
            "/api/v1/assets/p/1.0/x%20y.png": Link("linked", "asset", "p", "1.0", "x y.png"),
            "https://example.org/x": Link("linked", "url", path="https://example.org/x"),
            "": Link("dangling", project="p", reason="symbol", wanted="p.g"),
        }
        for expected, link in cases.items():
            with self.subTest(expected):
                self.assertEqual(href_of(link), expected)

    def test_an_outside_pattern_cannot_smuggle_a_script(self):
        for address in ("javascript:alert(1)//x", "data:text/html,x", "//example.org"):
            self.assertEqual(href_of(Link("linked", "url", path=address)), "")

    def test_types_become_links_and_faults_keep_their_finding(self):
        mentions = [Mention("a.T", "a.T", "type", "returns", 3, 5), Mention("U", "U", "type", "returns", 3, 9)]
        links = [
            Link("linked", "symbol", "p", "1", "a.T"),
            Link("dangling", project="p", reason="symbol", wanted="p.U"),
        ]
        finding = Finding("dangling/symbol", "error", "p.f", "gone", line=3, column=9, text="U", fingerprint="f1")
        pieces = Texts(mentions, links, [finding]).type("dict[a.T, U]")
        self.assertEqual(
            [(p.text, p.href, p.state, p.finding) for p in pieces],
            [
                ("dict[", "", "", ""),
                ("T", "/ref/p/1/a.T", "", ""),
                (", ", "", "", ""),
                ("U", "", "dangling", "f1"),
                ("]", "", "", ""),
            ],
        )


if __name__ == "__main__":
    unittest.main()
