"""Addresses on pages, without a database."""

import copy
import multiprocessing
import time
import unittest
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import mock

from django import conf
from django.core import cache
from django.test import override_settings

from tests.support import apps_loaded  # noqa: F401
from zarbek.core.linking.link import Link
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.writing.html import render
from zarbek.service.reference import linked_texts as texts
from zarbek.service.reference.linked_texts import Texts, href_of


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


def shown_block(text):
    return str(Texts([], [], []).block(text))


class Long(unittest.TestCase):
    """A text that is dear to render is rendered once for all processes."""

    def setUp(self):
        self.home = Path(self.enterContext(TemporaryDirectory()))
        caches = copy.deepcopy(conf.settings.CACHES)
        caches["renderings"]["LOCATION"] = self.home / "kept"
        self.enterContext(override_settings(CACHES=caches, RENDERINGS=self.home / "kept"))
        self.enterContext(mock.patch.object(texts, "render", self.render))
        self.made = self.home / "made"

    def render(self, text, resolve, **options):
        with self.made.open("a") as handle:
            handle.write("x")
        time.sleep(0.2)  # So that all have asked before the first is done.
        return render(text, resolve, **options)

    def test_processes_that_ask_at_once_share_one_rendering(self):
        with ProcessPoolExecutor(4, mp_context=multiprocessing.get_context("fork")) as pool:
            found = set(pool.map(shown_block, ["**a** " * 1000] * 8))
        self.assertEqual(len(found), 1)
        self.assertIn("<strong>a</strong>", found.pop())
        self.assertEqual(self.made.read_text(), "x")

    def test_a_kept_text_that_was_tampered_with_or_cut_is_harmless(self):
        text = "**b** " * 1000
        shown = shown_block(text)
        kept = next((self.home / "kept").glob("*.djcache"))
        with mock.patch.object(
            type(cache.caches["renderings"]), "get", return_value="<p onclick=x()>b<script>1</script>"
        ):
            self.assertEqual(shown_block(text), "<p>b</p>")
        kept.write_bytes(kept.read_bytes()[:-40])
        with self.assertLogs("zarbek", "WARNING"):
            self.assertEqual(shown_block(text), shown)

    def test_a_folder_that_cannot_be_written_costs_only_time(self):
        (self.home / "kept").write_text("no folder")
        with self.assertLogs("zarbek", "WARNING"):
            self.assertEqual(shown_block("c " * 4000), "<p>" + ("c " * 4000).strip() + "</p>\n")


if __name__ == "__main__":
    unittest.main()
