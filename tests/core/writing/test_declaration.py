import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.writing.declaration import break_declaration


class Breaking(unittest.TestCase):
    def test_long_lists_have_one_parameter_a_line(self):
        text = "public static <K, V> Map<K, V> collect(Map<? extends K, List<V>> from, Function<K, V> how, int most) throws E"
        self.assertEqual(
            break_declaration(text),
            "public static <K, V> Map<K, V> collect(\n    Map<? extends K, List<V>> from,\n    Function<K, V> how,\n"
            "    int most\n) throws E",
        )

    def test_short_ones_stay(self):
        self.assertEqual(break_declaration("void f(int a, int b)"), "void f(int a, int b)")

    @given(st.text(alphabet="ab,()<> :=-", max_size=160))
    def test_words_are_never_lost(self, text):
        self.assertEqual("".join(break_declaration(text).split()), "".join(text.split()))
