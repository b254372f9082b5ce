"""JSON Pointers, and references from one document to another."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.interfaces.pointers import parse_pointer, split_reference, with_indexes, write_pointer


class Pointers(unittest.TestCase):
    @given(st.lists(st.text(max_size=5), max_size=4).map(tuple))
    def test_written_pointers_are_read_again(self, parts):
        self.assertEqual(parse_pointer(write_pointer(parts)), parts)

    def test_references_are_joined_like_addresses(self):
        self.assertEqual(split_reference("../b.yaml#/x", "a/c.yaml"), ("b.yaml", "/x"))
        self.assertEqual(split_reference("#top", "a.yaml"), ("a.yaml", "top"))
        self.assertEqual(split_reference("b.json", "https://x.example/a/c.json"), ("https://x.example/a/b.json", ""))
        self.assertIsNone(parse_pointer("anchor"))

    def test_escapes_of_the_standard(self):
        self.assertEqual(parse_pointer("/a~1b/m~0n//0"), ("a/b", "m~n", "", "0"))
        self.assertEqual((parse_pointer(""), write_pointer(())), ((), ""))

    def test_percent_signs_are_of_the_address(self):
        self.assertEqual(split_reference("my%20file.json#/a%2Fb", "x.json"), ("my file.json", "/a/b"))

    def test_numbers_count_items_of_lists_only(self):
        value = {"a": [{"0": ["x"]}]}
        self.assertEqual(with_indexes(("a", "0", "0", "0"), value), ("a", 0, "0", 0))
        self.assertEqual(with_indexes(("a", "9", "0"), value), ("a", 9, "0"))
        self.assertEqual(with_indexes(("a", "²"), value), ("a", "²"))


if __name__ == "__main__":
    unittest.main()
