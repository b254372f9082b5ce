"""A tree's own table of contents."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.addresses import Addresses
from zarbek.core.sources.htmltrees.contents import Entry, entries_of, follow, next_of, order_files
from zarbek.core.sources.htmltrees.discovery import TreeFiles

PAGES = [f"{name}.html" for name in "iabcdef"]
FILES = TreeFiles(PAGES)
PAGE = """<p><a href="f.html">elsewhere</a></p>
<div><ul><li><a href="a.html">A</a><ul><li><a href="b.html#x">B</a></li><li><a href="b.html#y">B</a></li></ul></li>
<li><a href="c.html">C</a> <a href="https://halmere.example/">H</a></li><li><a href="none.html">gone</a></li></ul></div>"""
NAMES = st.lists(st.sampled_from("iabcdef"), max_size=12)


def nowhere(_file):
    return ""


class Contents(unittest.TestCase):
    def entries(self, text, selector=""):
        return entries_of(LexborHTMLParser(text), Addresses("i.html"), FILES, selector)

    def test_lists_within_lists(self):
        nested = [Entry("a.html", 0), Entry("b.html", 1), Entry("c.html", 0)]
        self.assertEqual(self.entries(PAGE, "div"), nested)
        self.assertEqual(self.entries(PAGE, "p.none"), [])
        self.assertEqual({e.file for e in self.entries(PAGE)}, {"f.html", "a.html", "b.html", "c.html"})

    def test_the_innermost_list_that_leads_to_most(self):
        self.assertEqual(self.entries(PAGE.replace('<p><a href="f.html">elsewhere</a></p>', "")),
                         [Entry("a.html", 0), Entry("b.html", 1), Entry("c.html", 0)])  # fmt: skip

    def test_pages_that_say_which_is_next(self):
        pages = {"a.html": '<link rel="next" href="b.html">', "b.html": '<a rel="nofollow next" href="c.html#x">on</a>',
                 "c.html": '<link rel=next href="a.html">'}  # fmt: skip
        chain = follow("a.html", lambda f: next_of(LexborHTMLParser(pages[f]), Addresses(f), FILES))
        self.assertEqual(chain, ["a.html", "b.html", "c.html"])
        self.assertEqual(next_of(LexborHTMLParser("<link rel=next href=none.html>"), Addresses("a.html"), FILES), "")

    def test_a_chain_that_is_longer_has_the_depths_of_the_contents(self):
        entries = [Entry("a.html", 0), Entry("c.html", 1)]
        placed = order_files(PAGES, "i.html", entries, [f"{n}.html" for n in "iabcd"], nowhere)
        self.assertEqual(placed, [Entry("i.html", 0), Entry("a.html", 0), Entry("b.html", 1), Entry("c.html", 1),
                                  Entry("d.html", 2), Entry("e.html", 0), Entry("f.html", 0)])  # fmt: skip

    def test_others_stand_below_the_page_that_is_above_them(self):
        above = {"c.html": "a.html", "d.html": "c.html", "f.html": "e.html"}
        placed = order_files(PAGES, "i.html", [Entry("a.html", 1), Entry("b.html", 2)], [], lambda f: above.get(f, ""))
        self.assertEqual(placed, [Entry("i.html", 0), Entry("a.html", 1), Entry("b.html", 2), Entry("c.html", 2),
                                  Entry("d.html", 3), Entry("e.html", 0), Entry("f.html", 1)])  # fmt: skip
        many = [f"{n:05}.html" for n in range(5_000)]
        chained = order_files(many, many[0], [], [], dict(zip(many[1:], many, strict=False)).__getitem__)
        self.assertEqual([e.file for e in chained], many)

    @given(NAMES, NAMES, st.sampled_from("iabcdef"), st.dictionaries(*[st.sampled_from(PAGES)] * 2))
    def test_every_page_stands_once(self, entries, chain, first, above):
        placed = order_files(
            PAGES, f"{first}.html", [Entry(f"{n}.html", 0) for n in entries], [f"{n}.html" for n in chain],
            lambda file: above.get(file, ""),
        )  # fmt: skip
        self.assertEqual(sorted(e.file for e in placed), sorted(PAGES))
        self.assertEqual(placed[0].file, f"{first}.html")


if __name__ == "__main__":
    unittest.main()
