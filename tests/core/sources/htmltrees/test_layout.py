"""What of a page is its own."""

import unittest

from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.layout import common_blocks, cut_frame, neighbours_of, root_of

#: As programs wrote pages before there were elements that say what they are for.
OLD = """<html><head><link rel="prev" href="{before}.html"><link rel="next" href="{after}.html"></head><body>
<table><tr><td><img src="logo.png" alt=""></td><td>Pontoon reference, made on 2031-0{m}-1{n}</td></tr></table>
<table><tr><th>{name}</th></tr><tr><td><a href="{before}.html">Back</a></td><td><a href="{after}.html">On</a></td></tr></table>
<div><div id="crumbs{n}"><a href="i.html">All</a> &gt; {name}</div>
<h1>{name}</h1><h3>Members</h3><p>Keeps the deck of {name} level.<p>See <a href="x.html">what floats</a> with {name}.</div>
<hr><p>Made by hand. <a href="i.html">All</a></body></html>"""


class Frames(unittest.TestCase):
    def pages(self, count=8):
        names = [f"part{n}" for n in range(count)]
        return [
            LexborHTMLParser(OLD.format(name=name, n=n, m=n + 1, before=names[n - 1], after=names[(n + 1) % count]))
            for n, name in enumerate(names)
        ]

    def own(self, document, common=frozenset(), selector=""):
        root = root_of(document, selector)
        gone = cut_frame(root, common, neighbours_of(document))
        return " ".join(root.text(separator=" ").split()), gone

    def test_what_stands_on_most_pages_above_or_below_goes_and_what_differs_stays(self):
        common = common_blocks(self.pages())
        text, gone = self.own(self.pages()[3], common)
        self.assertEqual(text, "All > part3 part3 Members Keeps the deck of part3 level. See what floats with part3.")
        self.assertEqual(gone, [])

    def test_headings_that_all_pages_have_between_their_own_words_stay(self):
        self.assertIn("Members", self.own(self.pages()[0], common_blocks(self.pages()))[0])

    def test_what_elements_say_that_they_are(self):
        document = LexborHTMLParser(
            "<body><header id=h>Pontoon</header><nav><a id=top href=a>A</a></nav><main><header><h1>Deck</h1></header>"
            "<p>Floats.<script>x()</script><nav>More</nav></main><footer>Ours</footer></body>"
        )
        self.assertEqual(self.own(document), ("Deck Floats.", []))
        self.assertEqual(
            self.own(LexborHTMLParser("<body><header id=h>P</header><p>Floats.</body>")), ("Floats.", ["h"])
        )

    def test_a_project_says_better_where_the_content_is(self):
        document = LexborHTMLParser("<main>No</main><div class=text>Yes</div>")
        self.assertEqual(self.own(document, selector="div.text")[0], "Yes")
        self.assertEqual(self.own(document, selector="p.none")[0], "No")

    def test_links_around_a_page_go_and_what_has_a_place_stays(self):
        around = '<p><a href="a.html">Before</a> | <a href="b.html">After</a></p>'
        self.assertEqual(self.own(LexborHTMLParser(f"{around}<p>Floats.</p>{around}"))[0], "Floats.")
        listed = '<p><a id="raise" href="a.html">raise</a> <a href="b.html">Deck</a></p>'
        self.assertEqual(self.own(LexborHTMLParser(f"<p>Floats.</p>{listed}"))[0], "Floats. raise Deck")

    def test_a_page_that_is_all_frame_is_empty(self):
        common = common_blocks([LexborHTMLParser("<p>The same.</p>")] * 4)
        self.assertEqual(self.own(LexborHTMLParser("<p>The same.</p>"), common)[0], "")


if __name__ == "__main__":
    unittest.main()
