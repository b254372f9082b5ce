"""One page of a tree."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.model.mention import Mention
from zarbek.core.model.page import Heading
from zarbek.core.sources.htmltrees.page_reader import read_page

PIECES = st.sampled_from([
    "<a href=x.html>", "<a name=n>", "<p id='i'>", "<h2>", "</h2>", "<frame src=f>", "<img src>", "<base href=..>",
    "<meta http-equiv=refresh content='0;'>", "</a>", "<svg>", "<!--", "-->", "<title>", "&#0;", "\0", "x", "\n", '"',
])  # fmt: skip


class Pages(unittest.TestCase):
    def test_what_it_leads_to_with_its_place(self):
        page = read_page(
            '<p><a href="b.html#x">one</a>\n<A HREF=c.html>two</A> <a href="d.html?a=1&amp;b=2">three</a>\n'
            "<img src='p.png'><map><area href=e.html></map> <iframe src=f.html></iframe>\n"
            '<a href="https://halmere.example/">out</a><a>none</a><a href="javascript:x">no</a>',
            "api/a.html",
        )
        self.assertEqual(page.mentions, [
            Mention("b.html#x", "api/b.html#x", "page", "a", 1, 7), Mention("c.html", "api/c.html", "page", "a", 2, 4),
            Mention("d.html?a=1&b=2", "api/d.html", "page", "a", 2, 27),
            Mention("e.html", "api/e.html", "page", "area", 3, 29),
            Mention("https://halmere.example/", "https://halmere.example/", "url", "a", 4, 4),
            Mention("f.html", "api/f.html", "page", "iframe", 3, 56),
            Mention("p.png", "api/p.png", "asset", "img", 3, 6),
        ])  # fmt: skip

    def test_places_each_once_and_those_that_stand_twice(self):
        page = read_page('<p id=a><a name="b"></a>\n<a id="c" name="c"></a>\n<p id="a">\n<p id="">', "p.html")
        self.assertEqual((page.anchors, page.twice), (["a", "b", "c"], [("a", 3)]))

    def test_headings_with_the_place_that_leads_to_them(self):
        page = read_page(
            "<h1 id=t>Tide <code>tables</code></h1><a name=u></a><h2>Under</h2><h2><a id=w></a>Within¶</h2>"
            "<section id=s><h3>First</h3><h3>Second</h3></section>",
            "p.html",
        )
        self.assertEqual(page.headings, [
            Heading(1, "Tide tables", "t"), Heading(2, "Under", "u"), Heading(2, "Within", "w"), Heading(3, "First", "s"),
            Heading(3, "Second", ""),
        ])  # fmt: skip

    def test_signs_that_lead_to_a_heading_are_no_words(self):
        page = read_page(
            "<h2><a href=#m>\u25c6</a> moor()<h2>Cast off \u00a7<h2>C #<h2>\u03c0<h2>operator ==", "p.html"
        )
        self.assertEqual([h.title for h in page.headings], ["moor()", "Cast off", "C", "\u03c0", "operator =="])

    def test_title_language_and_where_browsers_are_sent(self):
        page = read_page('<html lang="de"><title> Gezeiten\n tafeln</title><meta http-equiv="Refresh" content="0; URL=\'n/x.html\'">', "a/p.html")  # fmt: skip
        self.assertEqual((page.title, page.language), ("Gezeiten tafeln", "de"))
        self.assertEqual((page.moved_to.name, page.moved_to.field), ("a/n/x.html", "meta"))
        self.assertEqual(page.mentions, [page.moved_to], "it is a link as well")

    def test_a_copy_says_whose(self):
        for address, name in (("new.html", "a/new.html"), ("p.html", ""), ("https://halmere.example/p.html", "")):
            page = read_page(f'<link href="{address}" rel="canonical">', "a/p.html")
            self.assertEqual(page.moved_to.name if page.moved_to else "", name)

    def test_what_pages_show(self):
        page = read_page(
            """<body background=sky.gif><style>
p { background: url(p.png) }</style><link rel="icon" href=i.ico><link rel=author href=no.html>
<img src=a.png srcset="b.png 1x, c.png 2x"><video poster=v.png><object data=o.svg></object>""",
            "p.html",
        )
        self.assertEqual([(m.name, m.field, m.line) for m in page.mentions if m.origin == "asset"], [
            ("a.png", "img", 3), ("b.png", "img", 3), ("c.png", "img", 3), ("v.png", "video", 3),
            ("o.svg", "object", 3), ("sky.gif", "body", 1), ("i.ico", "link", 2), ("p.png", "style", 2),
        ])  # fmt: skip

    def test_pages_of_frames(self):
        page = read_page(
            '<frameset cols="20%,80%"><frame src="list.html"><frame src="main.html#x"></frameset>', "i.html"
        )
        self.assertEqual([m.name for m in page.mentions], ["list.html", "main.html#x"])

    def test_what_scripts_and_templates_would_make_is_not_there(self):
        page = read_page(
            "<script>'<a href=x id=y>'</script><template><a href=z id=q></template><!-- <a href=c> -->", "p.html"
        )
        self.assertEqual((page.mentions, page.anchors), ([], []))

    @given(st.lists(PIECES, max_size=30).map("".join))
    def test_any_markup_is_some_page(self, text):
        page = read_page(text, "a/b.html")
        self.assertTrue(all(m.line >= 1 and m.column >= 0 for m in page.mentions))
        self.assertEqual(len(page.anchors), len(set(page.anchors)))

    def test_what_mending_makes_twice_is_one(self):
        page = read_page('<p><a id="x" href="#g"><h2>Hi</h2><p>more</a><p>and <a href="#g">again</a>', "a.html")
        self.assertEqual([(m.name, m.column) for m in page.mentions], [("a.html#g", 14), ("a.html#g", 56)])
        self.assertEqual((page.anchors, page.twice), (["x"], []))


if __name__ == "__main__":
    unittest.main()
