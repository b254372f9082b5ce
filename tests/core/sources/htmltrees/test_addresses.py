"""What addresses in pages mean."""

import unittest
from urllib.parse import urljoin

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.htmltrees.addresses import Addresses, Reference, Site, below_published

PARTS = st.lists(st.sampled_from(["a", "b.html", "..", ".", "", "c"]), min_size=1, max_size=6).map("/".join)


def file(path, fragment=""):
    return Reference("file", path, fragment)


class Reading(unittest.TestCase):
    def test_within_the_tree(self):
        addresses = Addresses("api/tide/Table.html")
        for address, meant in (
            ("Window.html", file("api/tide/Window.html")),
            ("Window.html#open(int)", file("api/tide/Window.html", "open(int)")),
            ("#find", file("api/tide/Table.html", "find")),
            ("", file("api/tide/Table.html")),
            ("?frames=no#find", file("api/tide/Table.html", "find")),
            ("../index.html?q=1", file("api/index.html")),
            ("../", file("api/")),
            ("../../..", file("../")),
            ("../../../x.html", file("../x.html")),
            (" \n Win\tdow.html ", file("api/tide/Window.html")),
            ("..\\up.html", file("api/up.html")),
            ("a%20b.html#%C3%A9", file("api/tide/a%20b.html", "%C3%A9")),
        ):
            with self.subTest(address):
                self.assertEqual(addresses.read(address), meant)
                self.assertEqual(addresses.read(address), meant)  # As remembered, too.

    def test_out_of_the_tree_and_nowhere(self):
        addresses = Addresses("a.html")
        self.assertEqual(addresses.read("https://halmere.example/x#y"), Reference("url", "https://halmere.example/x#y"))
        self.assertEqual(addresses.read("//halmere.example/x"), Reference("url", "https://halmere.example/x"))
        self.assertEqual(addresses.read("/x.html"), Reference("none", "/x.html"))
        for address in ("javascript:go()", "mailto:a@b.example", "data:text/html,x", "x" * 5000, "a/" * 400):
            with self.subTest(address[:20]):
                self.assertEqual(addresses.read(address).kind, "none")

    def test_absolute_addresses_of_where_the_tree_is_published(self):
        addresses = Addresses("a/b.html", site=Site("https://docs.halmere.example/pontoon/"))
        for address, meant in (
            ("https://docs.halmere.example/pontoon/c.html#d", file("c.html", "d")),
            ("http://DOCS.halmere.example/pontoon/c.html?x", file("c.html")),
            ("/pontoon/c.html", file("c.html")),
            ("https://docs.halmere.example/pontoon", file("/")),
            ("/pontoon/", file("/")),
            ("/other.html", Reference("url", "https://docs.halmere.example/other.html")),
            ("https://docs.halmere.example/pontoon2/c.html", Reference("url", "https://docs.halmere.example/pontoon2/c.html")),
        ):  # fmt: skip
            with self.subTest(address):
                self.assertEqual(addresses.read(address), meant)

    def test_a_base_changes_what_all_others_mean(self):
        addresses = Addresses("a/b.html", base="../c/d.html")
        self.assertEqual([addresses.read(a) for a in ("e.html", "#f", "/g")],
                         [file("c/e.html"), file("c/d.html", "f"), Reference("none", "/g")])  # fmt: skip
        outside = Addresses("a/b.html", base="https://halmere.example/x/y")
        self.assertEqual([outside.read(a).path for a in ("e.html", "#f", "/g")],
                         ["https://halmere.example/x/e.html", "https://halmere.example/x/y#f",
                          "https://halmere.example/g"])  # fmt: skip
        self.assertEqual(Addresses("a/b.html", base="javascript:x").read("e.html"), file("a/e.html"))

    @given(PARTS, PARTS)
    def test_paths_are_joined_as_the_standard_says(self, page, address):
        at = "z/" * 20 + page.strip("/") + "/p.html"
        at = urljoin("https://h.example/", at).removeprefix("https://h.example/").replace("//", "/")
        if address.startswith("/") or "//" in address:
            return
        expected = urljoin("https://h.example/" + at, address).removeprefix("https://h.example/")
        found = Addresses(at).read(address)
        self.assertEqual(found.path.strip("/"), expected.strip("/"))

    @given(st.text(max_size=60), st.text(max_size=20))
    def test_any_address_means_something_or_nothing(self, address, base):
        self.assertIn(Addresses("a/b.html", base).read(address).kind, ("file", "url", "none"))

    def test_below_published(self):
        self.assertIsNone(below_published("https://other.example/x", "https://docs.example/"))
        self.assertEqual(below_published("https://docs.example#x", "https://docs.example/"), "#x")


if __name__ == "__main__":
    unittest.main()
