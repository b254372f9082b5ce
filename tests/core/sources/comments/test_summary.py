"""The first sentence of a text."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.comments.summary import split_summary


class Summary(unittest.TestCase):
    def test_where_a_sentence_ends(self):
        for text, summary, rest in (
            ("One. Two.", "One.", "Two."),
            ("One, e.g. this, i.e. that. Two.", "One, e.g. this, i.e. that.", "Two."),
            ("Version 1.2 is new. Two.", "Version 1.2 is new.", "Two."),
            ("Sees `a. B`. Two.", "Sees `a. B`.", "Two."),
            ("Sees [a. B](api:x). Two.", "Sees [a. B](api:x).", "Two."),
            ("Really? Yes.", "Really?", "Yes."),
            ("No end\n\nMore.", "No end", "More."),
            ("over\ntwo lines. More", "over two lines.", "More"),
            ("By A. Sailor. More", "By A. Sailor.", "More"),
        ):
            self.assertEqual(split_summary(text), (summary, rest))

    def test_what_is_no_prose_is_no_summary(self):
        for text in ("```\ncode. More\n```", "- an item. More", "> quoted. More", "# A title. More", ""):
            self.assertEqual(split_summary(text), ("", text))

    @given(st.text(alphabet="ab.`[]() \nE", max_size=60))
    def test_nothing_is_lost(self, text):
        summary, rest = split_summary(text)
        self.assertEqual("".join(f"{summary} {rest}".split()), "".join(text.split()))


if __name__ == "__main__":
    unittest.main()
