import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from zarbek.core.sources.comments.java import convert_text, split_reference
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.writing.html import render
from zarbek.core.writing.shown import Shown


def convert(text):
    return convert_text(text, 1, MentionSink(text.split("\n")))


class Elements(unittest.TestCase):
    def test_html_becomes_commonmark(self):
        for html, expected in {
            "a <b>bold</b> and <i>thin</i> <code>x_y</code>": "a **bold** and *thin* `x_y`",
            "one<p>two": "one\n\ntwo",
            "<ul><li>a<li>b</ul>": "- a\n- b",
            "<ol><li>a</li><li>b</li></ol>": "1. a\n2. b",
            "2<sup>31</sup> - 1": "2^31 - 1",
            "a &lt;b&gt; *c* [d]": "a \\<b> \\*c\\* \\[d\\]",
            "<pre>\n  x &lt; 1;\n    y;\n</pre>": "```\nx < 1;\n  y;\n```",
            "<table><tr><th>A</th><th>B</th></tr>\n<tr><td>1</td>\n<td>2|3</td></tr>\n</table>":
                "| A | B |\n| --- | --- |\n| 1 | 2\\|3 |",
            "see <a href=\"https://x.example/a\">it</a>": "see [it](<https://x.example/a>)",
            "List<String> is no element": "List\\<String> is no element",
            "<script>alert(1)</script>after": "after",
        }.items():  # fmt: skip
            with self.subTest(html):
                self.assertEqual(convert(html), expected)

    def test_a_table_keeps_its_caption(self):
        html = "<table><caption>The <b>berths</b></caption><tr><td>a</td></tr></table>"
        self.assertEqual(convert(html), "The **berths**\n\n| a |\n| --- |")

    def test_references_keep_their_blanks_inside_parentheses(self):
        self.assertEqual(split_reference("A#m(int, B) the label"), ("A#m(int, B)", "the label"))
        self.assertEqual(split_reference("A.B label here"), ("A.B", "label here"))

    @settings(max_examples=300)
    @given(st.text(alphabet='ab<>/&;{}@ "=\n*_`[]()#-1.|\\', max_size=60))
    def test_whatever_stands_in_a_comment_comes_out_harmless(self, text):
        html = str(render(convert(text), lambda _: Shown()))
        self.assertNotRegex(html, r"<(script|iframe|img|style|object)|javascript:|\bon\w+=")
