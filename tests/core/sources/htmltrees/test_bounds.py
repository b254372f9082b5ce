"""Markup that would keep a parser busy for ever."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.bounds import MAX_DEPTH, bounded

TAGS = st.sampled_from(
    ["<b>", "</b>", "<div>", "</div>", "<p>", "<li>", "<a href=x>", "x", "<img src=y>", "<!-- <b> -->"]
)


def depth_of(document):
    deepest, node, depth = 0, document.body, 1
    while node is not None:
        deepest = max(deepest, depth)
        following = node.child
        if following is not None:
            depth += 1
        while following is None and node is not None and node.tag != "body":
            following = node.next
            if following is None:
                node, depth = node.parent, depth - 1
        node = following
    return deepest


class Bounds(unittest.TestCase):
    def test_what_nests_without_end_is_cut_off_and_its_words_stay(self):
        for opened in ("<div>", "<ul><li>", "<dl><dd>", "<blockquote>", "<form><div>", "<table><tr><td>"):
            with self.subTest(opened):
                text = bounded(opened * 100_000 + "the end")
                document = LexborHTMLParser(text.encode())
                self.assertLess(depth_of(document), 5 * MAX_DEPTH)
                self.assertIn("the end", document.body.text())

    def test_open_formatting_is_not_cloned_into_every_paragraph(self):
        text = "".join(f"<font id=x{n}><p>{n}" for n in range(3_000))
        document = LexborHTMLParser(bounded(text).encode())
        self.assertLess(len(document.html), 3_000_000)  # 100 MB, were it left as it is.
        self.assertIn("2999", document.body.text())

    def test_a_tag_with_very_many_attributes_has_none(self):
        text = "<p>before<img " + " ".join(f"a{n}=1" for n in range(50_000)) + " src=x><p>after"
        self.assertEqual(bounded(text), "<p>before<img><p>after")

    def test_a_picture_within_an_address_stays(self):
        text = '<img alt="x" src="data:image/png;base64,' + "QUJD" * 20_000 + '">'
        self.assertEqual(bounded(text), text)

    def test_a_large_page_that_is_well_formed_is_as_it_was(self):
        text = "<dl>" + "".join(f'<dt><a name="a{n}"></a><code>f{n}</code></dt><dd>Does <b>{n}</b>.</dd>' for n in range(20_000)) + "</dl>"  # fmt: skip
        self.assertEqual(bounded(text), text)

    def test_drawings_and_links_that_nobody_closed_are_as_they_were(self):
        drawn = "<svg viewBox='0 0 9 9'>" + '<path d="M1,1 L2,2"/>' * 9_000 + "</svg>"
        for text in (drawn, f"<p>{drawn}</p>" * 3 + "<div>x" * 50, "<a name=x>line<br>" * 9_000):
            with self.subTest(text[:30]):
                self.assertEqual(bounded(text), text)

    def test_what_only_looks_like_a_drawing_is_cut_off(self):
        for begin in ("<svg><p>", "<svg>", "<svg><desc>", "<math><mi>"):
            with self.subTest(begin):
                text = bounded(begin + "<x/>" * 50_000 + "</math>")
                self.assertLess(depth_of(LexborHTMLParser(text.encode())), 5 * MAX_DEPTH)

    @given(st.lists(TAGS, max_size=40).map("".join))
    def test_a_page_as_people_write_it_is_as_it_was(self, text):
        self.assertEqual(bounded(text), text)


if __name__ == "__main__":
    unittest.main()
