"""Code with links at its names."""

import re
import unittest
from html import unescape

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.writing.code_html import linked_code
from zarbek.core.writing.code_tokens import CodeLink
from zarbek.core.writing.shown import Shown

CODE = "ship = Ship(3)\nship.leave('<now>')"


def words(html):
    return unescape(re.sub(r"<[^>]*>", "", str(html)))


class Linked(unittest.TestCase):
    def test_names_are_links_among_their_tokens(self):
        html = str(
            linked_code(
                CODE, "python", [CodeLink(7, 11, Shown("/ref/a", "sea.Ship")), CodeLink(20, 25, Shown("/ref/b"))]
            )
        )
        self.assertIn('<a href="/ref/a" title="sea.Ship" rel="noopener"><span class="n">Ship</span></a>', html)
        self.assertIn('<a href="/ref/b" rel="noopener"><span class="n">leave</span></a>', html)
        self.assertEqual(words(html), CODE + "\n")

    def test_a_link_may_be_around_several_tokens(self):
        html = str(linked_code("x = sea.load(1)\n", "python", [CodeLink(4, 12, Shown("/ref/a"))]))
        self.assertEqual(words(re.search(r"<a [^>]*>(.*)</a>", html)[1]), "sea.load")
        self.assertEqual(html.count("<a "), 1)

    def test_of_unknown_languages_nothing_else_is_marked(self):
        self.assertNotIn("<span", str(linked_code(CODE, "nonsense", [])))

    @given(st.text("ab =(.)'#\n", max_size=60), st.lists(st.tuples(st.integers(0, 60), st.integers(0, 9)), max_size=6))
    def test_the_words_stay_whatever_is_linked(self, code, places):
        links = [CodeLink(start, start + size, Shown("/x")) for start, size in places]
        self.assertEqual(words(linked_code(code, "python", links)).rstrip("\n"), code.rstrip("\n"))


if __name__ == "__main__":
    unittest.main()
