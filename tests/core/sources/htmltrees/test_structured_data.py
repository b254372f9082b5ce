"""What pages say of themselves for programs."""

import json
import unittest

from zarbek.core.sources.htmltrees.page_reader import parse_page, read_page
from zarbek.core.sources.htmltrees.page_symbols import symbols_of
from zarbek.core.sources.htmltrees.structured_data import NO_DATA, PageData, page_data

DECK = {
    "@context": "https://schema.org", "@type": "APIReference", "name": "halmere::Deck", "description": "A deck\n that rises.",
    "about": {"@type": "SoftwareSourceCode", "programmingLanguage": {"@type": "ComputerLanguage", "name": "C++"}},
}  # fmt: skip
BODY = "<pre>class Deck : public Float</pre><h3 id=moor>moor</h3><pre>void moor(const Rope &amp; rope)</pre>"


def script(*told):
    return "".join(f'<script type="application/ld+json">{json.dumps(each)}</script>' for each in told)


def data(page):
    return page_data(parse_page(page), page)


class Data(unittest.TestCase):
    def test_linked_data_alone_in_lists_and_in_graphs(self):
        found = PageData(True, "", "halmere::Deck", "A deck that rises.", "", "c++")
        inner = {name: value for name, value in DECK.items() if name != "@context"}
        for told in (
            DECK,
            [DECK],
            {"@context": "http://schema.org/", "@graph": [{"@type": "Person", "name": "Rosa"}, inner]},
        ):
            with self.subTest(json.dumps(told)[:40]):
                self.assertEqual(data(script(told)), found)

    def test_an_article_beside_a_reference_gives_what_that_lacks(self):
        article = {
            "@context": "https://schema.org",
            "@type": ["TechArticle"],
            "headline": "Decks",
            "inLanguage": "en",
            "name": "no",
        }
        self.assertEqual(data(script(article, DECK))[1:5], ("Decks", "halmere::Deck", "A deck that rises.", "en"))

    def test_microdata_of_the_item_itself(self):
        page = """<div itemscope itemtype="https://schema.org/TechArticle"><h1 itemprop="headline">Raising a deck</h1>
        <p itemscope itemtype="https://schema.org/Person" itemprop="author"><b itemprop="name">Rosa</b></p>
        <meta itemprop="inLanguage" content="de"></div>"""
        self.assertEqual(data(page), PageData(headline="Raising a deck", language="de"))

    def test_what_is_broken_foreign_or_too_much_says_nothing(self):
        for page in (
            script(DECK).replace("}", "", 1), script({**DECK, "@context": "https://example.org"}) + "schema.org",
            script({**DECK, "name": "x" * 300_000}), "schema.org" + '<script type="application/ld+json">' + "[" * 100_000,
            script({**DECK, "@type": "Product"}),
        ):  # fmt: skip
            with self.subTest(page[:60]):
                self.assertEqual(data(page), NO_DATA)
        self.assertEqual(data(script({**DECK, "name": {"no": 1}, "description": 7})).name, "")

    def test_a_page_takes_language_and_element_from_it(self):
        text = script({**DECK, "inLanguage": "en"}) + BODY
        read = read_page(text, "deck.html")
        found = symbols_of(read.document, text, "deck.html", "cpp", "Deck", data=read.data)
        self.assertEqual(read.language, "en")
        self.assertEqual([(s.path, s.kind, s.doc and s.doc.summary) for s in found],
                         [("halmere::Deck", "class", "A deck that rises."), ("halmere::Deck::moor(Rope)", "method", None)])  # fmt: skip


if __name__ == "__main__":
    unittest.main()
