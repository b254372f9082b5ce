"""Conditions of a preprocessor."""

import re
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.languages.preprocessor import blanked, first_branches

DIRECTIVE = re.compile(rb"^#(\w+)[^\n]*", re.MULTILINE)


def chosen(text):
    found = first_branches(text.encode(), DIRECTIVE, lambda *_: True).decode()
    return [row.strip() for row in found.split("\n") if row.strip()]


class Conditions(unittest.TestCase):
    def test_the_first_branch_counts(self):
        self.assertEqual(chosen("a\n#if X\nb\n#elif Y\nc\n#else\nd\n#endif\ne"), ["a", "b", "e"])
        self.assertEqual(chosen("#if X\na\n#ifdef Y\nb\n#else\nc\n#endif\n#else\nd\n#endif"), ["a", "b"])

    def test_what_is_not_to_be_decided_stays(self):
        text = b"#if X\na\n#else\nb\n#endif\n#if Y\nc\n#endif"
        kept = first_branches(text, DIRECTIVE, lambda start, _: start > 0)
        self.assertEqual(kept.split(b"\n")[:5], [b"#if X", b"a", b"#else", b"b", b"#endif"])
        self.assertEqual(kept.split(b"\n")[5:], [b"     ", b"c", b"      "])

    @given(st.lists(st.sampled_from(["a", "#if X", "#ifdef Y", "#else", "#elif Z", "#endif", ""]), max_size=20))
    def test_nothing_moves(self, rows):
        text = "\n".join(rows).encode()
        found = first_branches(text, DIRECTIVE, lambda *_: True)
        self.assertEqual(len(found), len(text))
        for before, after in zip(text.split(b"\n"), found.split(b"\n"), strict=True):
            self.assertIn(after, (before, blanked(before)))


if __name__ == "__main__":
    unittest.main()
