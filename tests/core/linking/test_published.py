"""Addresses where the portal's own trees are published."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.portals import MemoryPortal
from zarbek.core.linking.index import PageEntry, ReleaseIndex
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.published import PublishedTree, bare_address, place_at
from zarbek.core.model.bundle import Manifest, TreeFacts
from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Page

BASE = "https://docs.halmere.example/pontoon/"
PARTS = st.lists(st.sampled_from(["a", "b", "c.html", "1.x"]), max_size=5)


def release(version, files, address=f"{BASE}1.x/", project="pontoon"):
    manifest = Manifest(1, project, version, trees=[TreeFacts("ref/", address)])
    pages = [PageEntry(f"ref/{f}", f"ref/{f}", f, n, 0, ["deck"]) for n, f in enumerate(files)]
    return ReleaseIndex(project, version, symbols=(), pages=pages, assets=["ref/deck.png"], manifest=manifest)


class Published(unittest.TestCase):
    def links(self, own, *others):
        linker = Linker(own, MemoryPortal(own, *others))

        def link(address):
            page = Page("g", "G", "", "g.md", mentions=[Mention(address, address, "url")])
            linked = linker.link_page(page)
            return linked.links[0], linked.asked

        return link

    def test_an_address_leads_to_the_page_that_the_portal_holds(self):
        link = self.links(ReleaseIndex("handbook", "1", symbols=()), release("1.0", ["index.html", "deck.html"]))
        for address, path, anchor in (
            (f"{BASE}1.x/deck.html#deck", "ref/deck.html", "deck"), (f"{BASE}1.x/", "ref/index.html", ""),
            (f"{BASE}1.x", "ref/index.html", ""), ("HTTP://Docs.Halmere.example/pontoon/1.x/deck.html?q=1", "ref/deck.html", ""),
        ):  # fmt: skip
            with self.subTest(address):
                found, asked = link(address)
                self.assertEqual(
                    (found.outcome, found.kind, found.path, found.anchor), ("linked", "page", path, anchor)
                )
                self.assertIn(("?", "address:docs.halmere.example/pontoon"), asked)
        self.assertEqual(link(f"{BASE}1.x/deck.png")[0].path, "ref/deck.png")

    def test_what_is_not_there_dangles_and_what_nobody_gathered_is_left_alone(self):
        link = self.links(ReleaseIndex("handbook", "1", symbols=()), release("1.0", ["deck.html"]))
        for address, outcome, reason in (
            (f"{BASE}1.x/gone.html", "dangling", "page"), (f"{BASE}1.x/deck.html#gone", "dangling", "anchor"),
            (f"{BASE}1.x/all.pdf", "linked", ""), (f"{BASE}2.x/deck.html", "linked", ""), ("https://halmere.example/", "linked", ""),
            ("https://[::1/x", "linked", ""), ("mailto:a@b.example", "linked", ""),
        ):  # fmt: skip
            with self.subTest(address):
                found, _ = link(address)
                self.assertEqual((found.outcome, found.reason), (outcome, reason))

    def test_an_older_release_is_told_its_own_pages_too(self):
        old = release("1.0", ["deck.html", "sink.html"], f"{BASE}1.x/")
        new = release("2.0", ["deck.html"], f"{BASE}2.x/")
        link = self.links(new, old)
        self.assertEqual(link(f"{BASE}1.x/deck.html")[0].stale, ["older-release"])
        self.assertEqual(link(f"{BASE}1.x/sink.html")[0].stale, ["removed-later"])
        self.assertEqual(link(f"{BASE}2.x/deck.html")[0].stale, [])

    @given(PARTS, PARTS)
    def test_the_longest_address_counts(self, outer, rest):
        trees = {"h.example/": PublishedTree("all", "1", "")}
        base = "h.example/" + "".join(f"{part}/" for part in outer)
        trees[base] = PublishedTree("one", "1", "f/")
        place = place_at(base + "/".join(rest), trees)
        self.assertEqual((place.tree.project, place.path), ("one", "f/" + "/".join(rest)))
        self.assertEqual(place_at("h.example/zz/y", {**trees, "h.example/zz/y/": trees[base]}).path, "f/")
        self.assertIsNone(place_at("other.example/x", trees))

    @given(st.text(max_size=30))
    def test_any_text_is_an_address_or_none(self, text):
        bare = bare_address(text)
        self.assertFalse("#" in bare or "?" in bare.partition("/")[2])


if __name__ == "__main__":
    unittest.main()
