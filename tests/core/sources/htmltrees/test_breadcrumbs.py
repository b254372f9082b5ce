"""Where pages say that they stand."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.addresses import Addresses
from zarbek.core.sources.htmltrees.breadcrumbs import above, shows_any
from zarbek.core.sources.htmltrees.discovery import TreeFiles

FILES = TreeFiles(["index.html", "deck.html", "deck/moor.html"])
UP, DECK, SELF = "<a href='../index.html'>All</a>", "<a href='../deck.html'>Deck</a>", "<a href=moor.html>moor</a>"
PIECES = st.sampled_from([UP, DECK, SELF, " > ", "/", "\u203a", "words", "<p>", "<h1>", "<nav aria-label=Breadcrumb>", "<ul>", "<a href='x:y'>"])  # fmt: skip


def found(text):
    document = LexborHTMLParser(text)
    return above(document, Addresses("deck/moor.html"), FILES, "deck/moor.html")


class Breadcrumbs(unittest.TestCase):
    def test_the_page_above_is_the_last_that_leads_elsewhere(self):
        for text in (
            f"<nav aria-label=Breadcrumbs><ol><li>{UP}<li>{DECK}<li aria-current=page>moor</ol></nav>",
            f"<p>{UP} \u203a {DECK} \u203a {SELF}</p><h1>moor</h1>", f"<div>{UP} / {DECK} / moor</div>",
            f'<ol itemscope itemtype="https://schema.org/BreadcrumbList"><li>{UP}<li>{DECK}</ol>', f"<p>{DECK} &gt; moor<p>",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(found(text), "deck.html")

    def test_other_lists_of_links_are_none(self):
        for text in (
            f"<p>{UP} | {DECK}</p>", f"<p>See {UP} > {DECK}</p>", f"<ul><li>{UP}<li>{DECK}</ul>", f"<h1>moor</h1><p>{UP} > {DECK}",
            f"<p>{UP} is for {DECK} > moor", "<p>a > b</p>", "<nav aria-label=Breadcrumb><a href='https://halmere.example/'>H</a></nav>",
        ):  # fmt: skip
            with self.subTest(text):
                self.assertEqual(found(text), "")

    @given(st.lists(PIECES, max_size=12).map("".join))
    def test_a_page_is_never_above_itself(self, text):
        self.assertIn(found(text), ("", "index.html", "deck.html"))
        self.assertLessEqual(bool(found(text)), shows_any(LexborHTMLParser(text)))


if __name__ == "__main__":
    unittest.main()
