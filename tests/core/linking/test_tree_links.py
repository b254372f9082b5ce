"""Links in pages of trees."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.linking.index import PageEntry, ReleaseIndex
from zarbek.core.linking.link import OUTSIDE, Link
from zarbek.core.linking.tree_links import tree_link
from zarbek.core.model.mention import BESIDE, Mention

PLACES = ["deck", "open(int)", "%41", "é", "A"]
INDEX = ReleaseIndex(
    "pontoon", "2.0", symbols=(), assets=["img/deck.png"],
    pages=[PageEntry("api/deck.html", "api/deck.html", "Deck", 0, 0, PLACES)],
)  # fmt: skip


def link(name, origin="page"):
    return tree_link(INDEX, Mention(name, name, origin))


def page(anchor=""):
    return Link("linked", "page", "pontoon", "2.0", "api/deck.html", anchor)


class Links(unittest.TestCase):
    def test_pages_places_and_files(self):
        for name, found in (
            ("api/deck.html", page()), ("api/deck.html#", page()), ("api/deck.html#deck", page("deck")),
            ("api/deck.html#open(int)", page("open(int)")), ("api/deck.html#open%28int%29", page("open(int)")),
            ("api/deck.html#%41", page("%41")),  # As it is written, before it is decoded.
            ("api/deck.html#%C3%A9", page("é")), ("api/deck.html#Top", page()),
            ("img/deck.png", Link("linked", "asset", "pontoon", "2.0", "img/deck.png")),
        ):  # fmt: skip
            with self.subTest(name):
                self.assertEqual(link(name), found)

    def test_what_is_not_there(self):
        for name, origin, reason, near in (
            ("api/gone.html", "page", "page", ""), ("api/Deck.html", "page", "page", "api/deck.html"),
            ("api/deck.html#Deck", "page", "anchor", "api/deck.html#deck"),
            ("img/gone.png", "asset", "asset", ""), ("IMG/deck.PNG", "asset", "asset", "img/deck.png"),
            ("api/deck.html#None", "page", "anchor", ""),
        ):  # fmt: skip
            with self.subTest(name):
                found = link(name, origin)
                self.assertEqual(
                    (found.outcome, found.reason, found.wanted, found.via), ("dangling", reason, name, near)
                )

    def test_what_is_no_part_of_the_release(self):
        beside = Mention("engine.html", "engine.html", "page", role=BESIDE)
        self.assertEqual(tree_link(INDEX, beside), OUTSIDE)
        self.assertEqual(tree_link(INDEX, Mention("api/deck.html", "api/deck.html", "page", role=BESIDE)), page())
        above = link("../up.html")
        self.assertEqual((above.outcome, above.reason, above.wanted), ("outside", "leaves-tree", "../up.html"))

    def test_of_several_that_differ_in_case_none_is_meant(self):
        index = ReleaseIndex("pontoon", "2.0", symbols=(), assets=["a.png", "A.png"])
        self.assertEqual(tree_link(index, Mention("x", "a.PNG", "asset")).via, "")

    @given(st.sampled_from(PLACES))
    def test_every_place_is_found_as_it_is_written(self, place):
        self.assertEqual(link(f"api/deck.html#{place}").anchor, place)


if __name__ == "__main__":
    unittest.main()
