"""Rendering is safe whatever the text."""

import re
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.writing.html import PageMarks, SafeHtml, render
from zarbek.core.writing.plain_text import plain_text
from zarbek.core.writing.shown import Shown
from zarbek.core.writing.type_text import cut_type


def plain(_address):
    return None


class Hostile(unittest.TestCase):
    def test_nothing_active_comes_out(self):
        for text in (
            "<script>alert(1)</script>", "<img src=x onerror=alert(1)>", "[a](javascript:alert(1))", "[a](data:text/html,x)",
            "![a](javascript:x)", "<a href='javascript:x'>a</a>", "<style>*{}</style>", "[a](vbscript:x)",
        ):  # fmt: skip
            with self.subTest(text):
                html = str(render(text, lambda address: Shown(address) if not address.startswith("code:") else None))
                self.assertNotRegex(
                    html, r"<(script|style|iframe)|\son\w+=[^&]*>|(href|src)=\"(javascript|data|vbscript):"
                )

    @given(st.text(alphabet="<>\"'=&;:/()[]!`*_ asconript\n", max_size=200))
    def test_random_text_never_makes_an_event_handler(self, text):
        self.assertNotRegex(str(render(text, plain)), r"<[^>]*\son\w+\s*=")

    def test_only_the_sanitiser_makes_safe_html(self):
        with self.assertRaises(TypeError):
            SafeHtml("<b>x</b>", object())


class Links(unittest.TestCase):
    def test_states_are_marked_in_place(self):
        def resolve(address):
            return {"api:a": Shown("/ref/a"), "api:b": Shown("", "", "dangling", "f1")}.get(address)

        html = str(render("[`x`](api:a) and [y](api:b)", resolve))
        self.assertIn('<a href="/ref/a" rel="noopener"><code>x</code></a>', html)
        self.assertIn('<span class="mention dangling" data-finding="f1">y</span>', html)

    @given(st.from_regex(r"[A-Za-z][\w ,.;()'\"?/%=-]{0,40}", fullmatch=True))
    def test_the_short_way_for_plain_words_says_what_the_parser_says(self, text):
        parsed = str(render(f"**x** {text}", plain)).strip()
        self.assertEqual(str(render(text, plain)).strip(), parsed.replace("<strong>x</strong> ", "", 1))

    def test_mathematics_is_set_and_what_is_none_stays_as_written(self):
        html = str(
            render(
                "So {math}`a_1 < b`.\n\n```math\n\\frac{x}{y}\n```\n\n{math}`\\frac{` and {math}`</math><script>x</script>`",
                lambda _: None,
            )
        )
        self.assertIn("<msub><mi>a</mi><mn>1</mn></msub><mo>&lt;</mo>", html)
        self.assertIn('<div class="formula"><math display="block">', html)
        self.assertIn("<code>\\frac{</code>", html)
        self.assertNotIn("<script", html)
        long = "x" * 3_000
        self.assertIn(f"<code>{long}</code>", str(render(f"{{math}}`{long}`", lambda _: None)))

    def test_parts_open_and_of_tabs_one_is_open(self):
        html = str(
            render(
                ":::: details The *rest* <b>\n::: tab A\nOne.\n:::\n::: tab B\nTwo.\n:::\n::::\n\n::: tab C\nThree.\n:::\n",
                lambda _: None,
            )
        )
        self.assertIn("<details><summary>The *rest* &lt;b&gt;</summary>", html)
        self.assertEqual(re.findall(r'<details class="tab" name="(tabs-\d)"( open="")?><summary>(\w)', html),
                         [("tabs-1", ' open=""', "A"), ("tabs-1", "", "B"), ("tabs-2", ' open=""', "C")])  # fmt: skip

    def test_what_nobody_overrides_leaves_no_mark(self):
        self.assertEqual(str(render("Opens. {@inheritDoc} See `{@inheritDoc}`.", plain)).strip(),
                         "<p>Opens.  See <code>{@inheritDoc}</code>.</p>")  # fmt: skip
        self.assertEqual(plain_text("{@inheritDoc} Opens."), " Opens.")
        self.assertEqual(plain_text("See [how](<api://q/POST /a>) and [why](b.md)."), "See how and why.")

    def test_headings_start_where_the_page_wants_and_carry_anchors(self):
        self.assertEqual(
            str(render("# A", plain, headings_from=3, marks=PageMarks(["a"]))).strip(), '<h3 id="a">A</h3>'
        )

    def test_types_are_cut_at_known_names(self):
        pieces = cut_type("list[a.B] | None", {"a.B": ("/b", "", "", "")}.get)
        self.assertEqual([(p.text, p.href) for p in pieces], [("list[", ""), ("B", "/b"), ("] | None", "")])


if __name__ == "__main__":
    unittest.main()
