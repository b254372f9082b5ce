"""JSON and YAML with lines; what is hostile is refused."""

import json
import unittest

import yaml
from hypothesis import given, settings
from hypothesis import strategies as st

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.interfaces.documents import Document, read_document

VALUES = st.recursive(
    st.none() | st.booleans() | st.integers(-1000, 1000) | st.text(alphabet="ab:-#'\" {}é\n", max_size=8),
    lambda inner: (
        st.lists(inner, max_size=4)
        | st.dictionaries(st.text(alphabet="abcxyz~/ ", min_size=1, max_size=4), inner, max_size=4)
    ),
    max_leaves=12,
)


class Yaml(unittest.TestCase):
    def test_the_core_schema_of_1_2(self):
        found = Document(
            "a.yaml", "a: yes\nb: 2020-01-01\nc: 012\nd: 0o12\ne: 1e3\nf: ~\ng: 'true'\nh: true\n1: x\n"
        ).value
        self.assertEqual(
            found,
            {"a": "yes", "b": "2020-01-01", "c": 12, "d": 10, "e": 1000.0, "f": None, "g": "true", "h": True, "1": "x"},
        )

    @settings(max_examples=150, deadline=None)
    @given(VALUES)
    def test_what_is_written_is_read(self, value):
        text = yaml.safe_dump({"root": value}, allow_unicode=True)
        self.assertEqual(Document("a.yaml", text).value, {"root": value})

    @settings(max_examples=100, deadline=None)
    @given(st.dictionaries(st.text(alphabet="abcdef", min_size=1, max_size=5), VALUES, min_size=1, max_size=6))
    def test_lines_are_those_of_the_keys(self, value):
        for file, text in (("a.json", json.dumps(value, indent=1)), ("a.yaml", yaml.safe_dump(value))):
            document = Document(file, text)
            lines = text.split("\n")
            for key in value:
                self.assertRegex(lines[document.line((key,)) - 1], rf"^\s*[\"']?{key}[\"']?\s*:", file)

    def test_lines_inside_of_lists_and_of_what_is_not_there(self):
        for document in (
            Document("a.yaml", "a:\n  - x\n  - b: 1\n    c: 2\n"),
            Document("a.json", '{"a": [\n"x",\n{"b": 1,\n"c": 2}]}'),
        ):
            self.assertEqual([document.line(p) for p in ((), ("a", 1), ("a", 1, "c"))], [1, 3, 4])
            self.assertEqual(document.line(("a", 1, "c", "no", 4)), 4)

    def test_bombs_are_refused_with_their_line(self):
        bomb = "a: &a [x,x,x,x,x,x,x,x,x,x]\n" + "".join(
            f"{n}: &{n} [*{p},*{p},*{p},*{p},*{p},*{p},*{p},*{p},*{p},*{p}]\n"
            for p, n in zip("abcdefgh", "bcdefghi", strict=True)
        )
        cases = {
            bomb: ("multiply", 7), "a: " + "[" * 500: ("deeper than", 1), "a: &a [*a]\n": ("stands for nothing", 1),
            "a: 1\na: 2\n": ("twice", 2), "a: [1\nb: 2": ("no YAML", 2), "a: *b": ("stands for nothing", 1),
        }  # fmt: skip
        for text, (reason, line) in cases.items():
            with self.subTest(text[:20]), self.assertRaises(UnreadableText) as caught:
                Document("a.yaml", text)
            self.assertIn(reason, str(caught.exception))
            self.assertEqual(caught.exception.line, line)

    def test_a_tag_makes_no_object(self):
        self.assertEqual(Document("a.yaml", "a: !!python/object/apply:os.system ['x']").value, {"a": ["x"]})

    def test_broken_json_says_where(self):
        with self.assertRaises(UnreadableText) as caught:
            read_document("a.json", b'{"a": 1,\n"b": }')
        self.assertEqual(caught.exception.line, 2)
        with self.assertRaises(UnreadableText):
            read_document("a.json", b'{"a": ' * 5000)


if __name__ == "__main__":
    unittest.main()
