"""Digests of bodies: a function's own name plays no part in them."""

import re
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.gathering.body_digests import with_bodies
from zarbek.core.model.symbol import Symbol


def digest(name, body):
    symbol = Symbol(path=name, name=name, kind="function", language="python", module="m", line=1, end_line=2)
    return with_bodies(b"head\n" + body.encode(), [symbol])[0].body


class OwnNames(unittest.TestCase):
    @given(st.lists(st.sampled_from(["tie", "tied", " ", "(", ".", "_", "rope"]), max_size=12))
    def test_play_no_part_where_they_are_whole_words(self, parts):
        code = "".join(parts)
        body = f"{code} of what is long enough to be known again by what it does, all of it {code}"
        self.assertEqual(digest("tie", body), digest("ox", re.sub(r"\btie\b", "ox", body)))
        self.assertNotEqual(digest("tie", body), digest("ox", body + " and more"))


if __name__ == "__main__":
    unittest.main()
