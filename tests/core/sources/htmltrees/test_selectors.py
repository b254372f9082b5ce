"""What a project file may select by."""

import unittest

from hypothesis import given
from hypothesis import strategies as st
from selectolax.lexbor import LexborHTMLParser

from zarbek.core.sources.htmltrees.selectors import is_compound, is_selector

NAMES = st.from_regex(r"[A-Za-z][A-Za-z0-9-]{0,5}", fullmatch=True)
PARTS = st.one_of(
    NAMES.map(lambda n: f"#{n}"), NAMES.map(lambda n: f".{n}"), NAMES.map(lambda n: f"[{n}]"),
    st.tuples(NAMES, st.sampled_from(["=", "~=", "|=", "^=", "$=", "*="]), st.text("ab \u00e9]>", max_size=5)).map(
        lambda t: f'[{t[0]}{t[1]}"{t[2]}"]'),
)  # fmt: skip
COMPOUNDS = st.tuples(st.one_of(st.just("*"), NAMES), st.lists(PARTS, max_size=3)).map(lambda t: t[0] + "".join(t[1]))


class Selectors(unittest.TestCase):
    @given(COMPOUNDS, COMPOUNDS, st.sampled_from([" ", " > ", ">"]))
    def test_what_is_taken_is_a_selector_to_the_parser(self, one, other, between):
        self.assertTrue(is_compound(one), one)
        document = LexborHTMLParser("<p>")
        document.css(one)
        if "," not in one + other:
            self.assertTrue(is_selector(f"{one}{between}{other}, {one}"))
            document.css(f"{one}{between}{other}, {one}")

    def test_what_could_take_days_is_none(self):
        for text in ("a b c", "a > b > c", "p:has(a)", "p:nth-child(2n)", "a + b", "a ~ b", "", " ", "a[[", "a,", "#1"):
            with self.subTest(text):
                self.assertFalse(is_selector(text))
        for text in ("a b", "a > b", "a, b"):
            self.assertFalse(is_compound(text))


if __name__ == "__main__":
    unittest.main()
