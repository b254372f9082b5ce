"""Moving a symbol changes nothing of its content."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import symbols_of
from zarbek.core.model.relative_lines import attach, detach

SOURCE = 'def f(x: Thing):\n    """Do :func:`g`.\n\n    :param x: An `x`.\n    :raises ValueError: If not.\n    """\n'


class Relocation(unittest.TestCase):
    @given(st.integers(min_value=0, max_value=500))
    def test_content_is_equal_wherever_it_stands(self, lines):
        here, there = symbols_of(SOURCE)["m.f"], symbols_of("\n" * lines + SOURCE)["m.f"]
        self.assertEqual(detach(here), detach(there))
        self.assertEqual(attach(detach(here), there.file, there.line), there)


if __name__ == "__main__":
    unittest.main()
