"""Mathematics of pages."""

import time
import unittest

from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from zarbek.core.model.bundle import TreeFacts
from zarbek.core.writing.tree_html import show_page

SCRIPT = '<script src="lib/MathSetter.js"></script>'
PIECES = st.sampled_from(["\\(", "\\)", "\\[", "\\]", "$$", "x", "^", "_", "{", "}", "\\frac", "\\\\", "&", "<b>", "\\text{", "<pre>", "\\begin{matrix}"])  # fmt: skip


def show(text, script=SCRIPT):
    return LexborHTMLParser(str(show_page(f"<h1>Loads</h1>{script}{text}", TreeFacts(""), "Loads", lambda _: None)))


class Mathematics(unittest.TestCase):
    def test_formulas_within_words_and_on_their_own(self):
        page = show(
            "<p>A load of \\(w_1 \\le \\frac{W}{2}\\) holds: \\[ W = \\sum w_i \\\\[4pt] \\] and $$a^2$$ too.</p>"
        )
        self.assertEqual([m.attributes.get("display") for m in page.css("math")], ["inline", "block", "block"])
        self.assertEqual([len(page.css(f"math {tag}")) for tag in ("msub", "mfrac", "msup")], [2, 1, 1])
        self.assertTrue(page.body.text().startswith("A load of w1"))
        self.assertIn(" too.", page.body.text())

    def test_what_no_script_would_set_stays_as_it_is(self):
        text = "<p>Write \\(x\\) for $$5.</p>"
        self.assertEqual(show(text, "<script src=frame.js type=text/javascript></script>").css("math"), [])
        page = show("<p>\\(x</p><pre>\\(x\\)</pre><p><code>$$x$$</code> costs $$</p>")
        self.assertEqual(page.css("math"), [])
        self.assertIn("\\(x\\)", page.body.text())

    def test_what_cannot_be_read_stays_as_it_is_written(self):
        self.assertIn("\\(\\frac\\)", show("<p>\\(\\frac\\) and \\(x\\)</p>").body.text())
        self.assertIn("{" * 900, show("<p>\\(" + "{" * 900 + "\\)</p>").body.text())

    def test_formulas_that_are_scripts(self):
        page = show(
            '<p>Of <script type="math/tex">x^2</script>: <script type="math/tex; mode=display">y</script></p>', ""
        )
        self.assertEqual([m.attributes.get("display") for m in page.css("math")], ["inline", "block"])

    def test_a_formula_brings_in_nothing_but_itself(self):
        page = show(
            "<p>\\(\\text{&lt;b onclick=x&gt;} \\href{javascript:alert(1)}{x} \\style{color:red}{y} \\class{z}{w}\\)</p>"
        )
        for word in ("onclick", "javascript", "style", "class="):
            self.assertNotIn(word, page.css_first("p").html)

    def test_what_is_made_to_take_long_is_done_soon(self):
        began = time.process_time()
        for text in (
            "\\(" * 300_000,
            "\\(x" * 200_000 + "\\)",
            "$$" * 300_000,
            "\\(x\\)" * 20_000,
            "\\(" + "a^" * 900 + "\\)",
        ):
            show(f"<p>{text}</p>")
        self.assertLess(time.process_time() - began, 20)

    @given(st.lists(PIECES, max_size=20).map("".join))
    def test_any_page_is_shown(self, text):
        show(f"<p>{text}")


if __name__ == "__main__":
    unittest.main()
