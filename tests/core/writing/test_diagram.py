"""Diagrams: what was drawn is hostile until it has been drawn again."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.writing.diagram import Drawn, show
from zarbek.core.writing.html import render
from zarbek.core.writing.shown import Shown

SVG = '<!DOCTYPE svg><svg xmlns="http://www.w3.org/2000/svg" xmlns:x="http://www.w3.org/1999/xlink" viewBox="0 0 9 9" {}>{}</svg>'
BOX = '<polygon fill="none" stroke="black" points="0,0 9,9"/>'


def resolve(address):
    return Shown("/ref/quay/1/quay.Berth", "quay.Berth") if address == "code:quay.Berth" else None


def shown(body, more=""):
    return show(Drawn(SVG.format(more, body)), resolve)


class Diagrams(unittest.TestCase):
    def test_names_lead_where_they_lead_and_ink_is_the_pages(self):
        html = shown(f'<g class="node"><title>a</title>{BOX}<text x="1">quay.Berth</text><text>quay.Pier</text></g>')
        self.assertIn('<a href="/ref/quay/1/quay.Berth" title="quay.Berth"><text x="1" fill="currentColor">', html)
        self.assertIn('<text fill="currentColor">quay.Pier</text>', html)
        self.assertIn('stroke="currentColor"', html)
        self.assertNotIn("title>", html)
        self.assertIn('class="drawing"', html)

    def test_what_has_colours_of_its_own_stands_on_white(self):
        ground = '<polygon fill="white" stroke="transparent" points="0,0 9,9"/>'
        self.assertNotIn("white", shown(ground + BOX))
        self.assertIn('class="drawing coloured"', shown('<ellipse fill="#ffeecc" cx="1" cy="1" rx="1" ry="1"/>'))

    def test_what_acts_or_loads_is_not_drawn(self):
        html = shown(
            '<script>x()</script><style>*{}</style><image x:href="http://evil.example/a"/><foreignObject><b>b</b>'
            '</foreignObject><use href="#a"/><a x:href="javascript:x()"><polygon onclick="x()" points="1,1" '
            'fill="url(http://evil.example/a)" style="x:y" transform="translate(1)"/></a>', 'onload="x()"'
        )  # fmt: skip
        self.assertEqual(html.partition("<polygon")[2], ' points="1,1"></polygon></svg></div>\n')
        self.assertNotRegex(html, "script|style|evil|onload|onclick|href|<b>")

    def test_what_is_no_drawing_is_none(self):
        for svg in ("", "<svg", "<b/>", '<svg viewBox="url(x)"/>', '<svg xmlns="x"/>', "<svg>&x;</svg>"):
            self.assertEqual(show(Drawn(svg), resolve), "", svg)

    @given(st.text(max_size=40), st.text(max_size=20))
    def test_any_words_and_values_stay_what_they_are(self, words, value):
        from lxml import etree  # Escapes as XML asks for, or refuses.

        node = etree.Element("text", nsmap={None: "http://www.w3.org/2000/svg"})
        try:
            node.text = words
            node.set("fill", value)
        except ValueError:
            return
        html = shown(etree.tostring(node, encoding="unicode"))
        self.assertNotRegex(html.partition("<text")[2], r"<(?!/text|/svg|/div)|url\(")


class InTexts(unittest.TestCase):
    TEXT = "```dot\ndigraph { a }\n```"

    def render(self, drawn):
        return str(render(self.TEXT, resolve, draw=lambda text: drawn if text == "digraph { a }\n" else None))

    def test_a_block_is_drawn_and_passes_the_sanitiser(self):
        html = self.render(Drawn(SVG.format("", f'<g transform="translate(4 94)">{BOX}<text>quay.Berth</text></g>')))
        for part in (
            '<svg class="drawing"',
            'viewBox="0 0 9 9"',
            'transform="translate(4 94)"',
            "quay.Berth</text></a>",
        ):
            self.assertIn(part, html)

    def test_what_cannot_be_drawn_is_shown_with_what_is_wrong(self):
        html = self.render(Drawn(why="syntax error in line 1 near '<'"))
        self.assertIn("digraph", html)
        self.assertIn("Not drawn: syntax error in line 1 near '&lt;'", html)

    def test_where_nothing_draws_it_is_code(self):
        self.assertIn("digraph", str(render(self.TEXT, resolve)))


if __name__ == "__main__":
    unittest.main()
