"""What pages document beside what sources declare."""

import unittest

import msgspec

from zarbek.core.gathering.tree_symbols import join_symbols, roots_of
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.symbol import Place, Symbol


def symbol(path, kind="method", module="sf", parent="sf::Deck", language="cpp", place=None, doc=""):
    name = path.partition("(")[0].rpartition("::")[2]
    return Symbol(path, name, kind, language, module, parent, place=place, doc=Doc(doc) if doc else None)


def join(declared, documented):
    lines = join_symbols([msgspec.json.encode(s) for s in declared], documented)
    return {s.path: s for s in (msgspec.json.decode(line, type=Symbol) for line in lines)}


class Joined(unittest.TestCase):
    def test_what_stands_in_both_is_one_with_the_text_of_its_source(self):
        declared = [symbol("sf::Deck", "class", parent="sf", doc="From the source."), symbol("sf::Deck::moor(int)"),
                    symbol("sf::Deck::put()"), symbol("sf::Deck::put(int)")]  # fmt: skip
        found = join(declared, [
            symbol("sf::Deck", "class", parent="sf", place=Place("deck.html"), doc="From the page."),
            symbol("sf::Deck::moor(Line)", place=Place("deck.html", "m")), symbol("sf::Deck::put(char)", place=Place("deck.html", "p")),
            symbol("sf::Deck::sink()", place=Place("deck.html", "s")),
        ])  # fmt: skip
        self.assertEqual(
            list(found),
            ["sf", "sf::Deck", "sf::Deck::moor(int)", "sf::Deck::put()", "sf::Deck::put(int)", "sf::Deck::sink()"],
        )
        self.assertEqual(
            (found["sf::Deck"].doc.summary, found["sf::Deck"].place.file), ("From the source.", "deck.html")
        )
        self.assertEqual(found["sf::Deck::moor(int)"].place.anchor, "m", "as only one can be meant")
        self.assertIsNone(found["sf::Deck::put()"].place, "one of several")

    def test_the_page_that_is_about_it_counts(self):
        places = [Place("all.html", "d"), Place("deck.html"), Place("more.html", "e")]
        found = join([], [symbol("sf::Deck", "class", parent="sf", place=p) for p in places])
        self.assertEqual(found["sf::Deck"].place.file, "deck.html")

    def test_what_encloses_it_is_there(self):
        found = join([], [symbol("a::b::Deck::moor()", module="a::b", parent="a::b::Deck", place=Place("x.html", "m")),
                          symbol("h.deck.Pier", "class", "h.deck", "h.deck", "java", Place("y.html"))])  # fmt: skip
        self.assertEqual({path: (s.kind, s.parent) for path, s in found.items() if s.place is None}, {
            "a": ("namespace", ""), "a::b": ("namespace", "a"), "a::b::Deck": ("class", "a::b"), "h.deck": ("package", ""),
        })  # fmt: skip

    def test_what_stands_in_a_type_is_a_member_wherever_its_page_is(self):
        module = [symbol("sf::Deck::moor()", "function", place=Place("ropes.html", "m")),
                  symbol("sf::Deck::length", "variable", place=Place("ropes.html", "l"))]  # fmt: skip
        kinds = {path: s.kind for path, s in join([], [*module, symbol("sf::Deck", "class", parent="sf")]).items()}
        self.assertEqual((kinds["sf::Deck::moor()"], kinds["sf::Deck::length"]), ("method", "field"))
        kinds = {path: s.kind for path, s in join([symbol("sf::Deck", "namespace", parent="sf")], module).items()}
        self.assertEqual((kinds["sf::Deck::moor()"], kinds["sf::Deck::length"]), ("function", "variable"))

    def test_roots_are_the_outermost_names(self):
        documented = [symbol("x", module=m, language=lang) for m, lang in (
            ("org.halmere.deck", "java"), ("org.halmere.deck.parts", "java"), ("org.halmere.pier", "java"), ("deck_8h", "c"), ("sf", "cpp"))]  # fmt: skip
        self.assertEqual(
            roots_of(documented), {"java": ["org.halmere.deck", "org.halmere.pier"], "c": [], "cpp": ["sf"]}
        )


if __name__ == "__main__":
    unittest.main()
