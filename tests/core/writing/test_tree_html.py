"""Pages of trees in the portal's own form."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from tests.support.hostile import payloads
from zarbek.core.model.bundle import TreeFacts
from zarbek.core.writing.shown import Shown
from zarbek.core.writing.tree_html import show_page

TARGETS = {
    "float.html#f": Shown("/ref/pontoon/2.0/float.html#f"), "gone.html": Shown("", "Not there.", "dangling", "abc"),
    "deck.png": Shown("/files/deck.png"), "https://halmere.example/": Shown("https://halmere.example/"),
    "gone.png": Shown("", "", "dangling", "def"),
}  # fmt: skip
TAGS = "script,style,iframe,frame,object,embed,form,input,button,link,meta,base,svg,textarea,template"
PIECES = st.sampled_from([
    "<h1>", "<pre>", "<a href=float.html#f>", "<a name=n id=m>", "<img src=deck.png>", "</a>", "<math>", "<mtext>", "<style>",
    "<svg>", "<table><td>", "<frame src=x>", "<iframe src=float.html#f>", "<plaintext>", "<!--", "x", '<p class="language-c" onclick=x>',
])  # fmt: skip


TREE = TreeFacts("")


def show(text, title="Deck", facts=TREE):
    return str(show_page(text, facts, title, TARGETS.get))


def parts(html, selector):
    return [node.html for node in LexborHTMLParser(html).css(selector)]


class Shows(unittest.TestCase):
    def test_links_in_their_states(self):
        html = show(
            '<p><a class=old href="float.html#f" title="was">float</a> <a href="gone.html">gone</a> <a href="x:y">odd</a>'
        )
        self.assertEqual(parts(html, "a"), [
            '<a href="/ref/pontoon/2.0/float.html#f" rel="noopener">float</a>',
            '<a title="Not there." class="mention dangling" data-finding="abc" rel="noopener">gone</a>',
            '<a rel="noopener">odd</a>',
        ])  # fmt: skip

    def test_the_title_stands_once_whatever_says_it(self):
        for text in (
            "<div>Deck<p>in <a href='float.html#f'>float</a></p></div>x",
            "<h1 id=d>Deck</h1>x",
            "<b>Deck</b>x",
        ):
            html = show(text)
            self.assertNotIn("Deck", html)
            self.assertIn("x", html)
        self.assertIn('id="d"', show("<h1 id=d>Deck</h1>x"))
        self.assertIn("Deck", show("<h1>Floats</h1><p>Deck</p>"))

    def test_every_place_is_still_there(self):
        html = show(
            '<nav id="top"><a name="menu"></a></nav><a name="old">Old</a><a id="new" name="newer">New</a>'
            '<h1 id="deck"><a id="in"></a>Deck</h1><h2 id="raise">Raise</h2><table><tr id="row"><td id="cell">x</table><footer id="end">z</footer>'
        )
        document = LexborHTMLParser(html)
        for place in ("top", "menu", "old", "new", "newer", "deck", "in", "raise", "row", "cell", "end"):
            with self.subTest(place):
                self.assertEqual(len(document.css(f'[id="{place}"]')), 1)

    def test_headings_go_below_the_title_that_is_said_once(self):
        self.assertEqual(parts(show("<h1>Deck</h1><h2>Raise</h2><h6>Notes</h6>"), "h1,h2,h3,h6"),
                         ["<h3>Raise</h3>", "<h6>Notes</h6>"])  # fmt: skip
        self.assertEqual(parts(show("<h1>All of the deck</h1>"), "h2"), ["<h2>All of the deck</h2>"])

    def test_code_is_set_anew_unless_something_in_it_leads_somewhere(self):
        html = show(
            '<pre class="language-python">def <b>f</b>():\n  return 1</pre><pre><a href="float.html#f">f</a> = 1</pre>'
        )
        self.assertIn('<span class="k">def</span>', html)
        self.assertIn('<a href="/ref/pontoon/2.0/float.html#f" rel="noopener">f</a> = 1', html)
        self.assertIn('class="kt">int', show("<pre>int x;</pre>", facts=TreeFacts("", language="c")))

    def test_pictures_come_from_the_portal_or_are_words(self):
        html = show('<img src="deck.png" alt="d" onerror=x style="position:fixed"><img src="gone.png" alt="g"><img src="https://halmere.example/" alt="h"><img src="other" alt="o">')  # fmt: skip
        self.assertEqual(parts(html, "img"), ['<img src="/files/deck.png" alt="d">'])
        self.assertIn('<span class="mention dangling" data-finding="def">g</span>', html)
        self.assertIn('<a href="https://halmere.example/" rel="noopener">h</a>o', html)

    def test_tables_definitions_and_formulas_stay(self):
        html = show('<dl><dt><dfn>Deck</dfn><dd>Floats.</dl><table><tr><th colspan=2 scope=col>a<td rowspan=2>b</table><math display="block"><mfrac><mi>a</mi><mn>2</mn></mfrac></math>')  # fmt: skip
        self.assertIn("<dt><dfn>Deck</dfn></dt><dd>Floats.</dd>", html)
        self.assertIn('<th colspan="2" scope="col">a</th><td rowspan="2">b</td>', html)
        self.assertIn('<math display="block"><mfrac><mi>a</mi><mn>2</mn></mfrac></math>', html)

    def test_a_page_of_frames_is_a_list_of_them(self):
        html = show('<frameset><frame src="float.html#f" name="list"><frame src="gone.html"></frameset>')
        self.assertEqual(
            parts(html, "li"), ['<li><a href="/ref/pontoon/2.0/float.html#f" rel="noopener">list</a></li>']
        )


class Hostile(unittest.TestCase):
    def assert_harmless(self, html):
        document = LexborHTMLParser(html)
        self.assertEqual([node.tag for node in document.body.css(TAGS)], [])
        for node in document.body.css("*"):
            for name, value in node.attributes.items():
                self.assertFalse(name.startswith("on") or name in ("style", "srcdoc", "action"), node.html)
                if name in ("href", "src"):
                    self.assertRegex(value or "", r"^(?:/|https?:|$)")

    def test_nothing_active_comes_out(self):
        for payload in payloads("pontoon", "http://127.0.0.1:1"):
            for text in (
                payload,
                f"<main>{payload}</main>",
                f"<math><mi>{payload}</mi></math>",
                f"<pre>{payload}</pre>",
            ):
                with self.subTest(text):
                    self.assert_harmless(show(text))

    def test_no_page_looks_like_a_part_of_the_portal(self):
        html = show(
            '<div class="finding"><span class="mention dangling" data-finding="x" style="color:red">x</span></div>'
        )
        self.assertEqual(html, '<div><span data-finding="x">x</span></div>')

    @given(st.lists(PIECES, max_size=25).map("".join))
    def test_any_markup_is_shown_and_harmless(self, text):
        self.assert_harmless(show(text))


if __name__ == "__main__":
    unittest.main()
