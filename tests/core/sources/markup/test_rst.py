"""reStructuredText blocks to CommonMark."""

import unittest
from textwrap import dedent

from hypothesis import given
from hypothesis import strategies as st
from markdown_it import MarkdownIt

from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.rst import DocFacts, convert_blocks, instead_in

CASES = {
    "paragraphs are kept apart": ("One\nline.\n\nTwo.", "One\nline.\n\nTwo."),
    "literal block": ("Like::\n\n    a = 1\n      b", "Like:\n\n```\na = 1\n  b\n```"),
    "literal block alone": ("::\n\n    x", "```\nx\n```"),
    "doctest": (">>> f(1)\n2\n\nAfter.", "```pycon\n>>> f(1)\n2\n```\n\nAfter."),
    "bullets with a long item": ("* one\n  more\n* two", "- one\n  more\n- two"),
    "nested bullets": ("* one\n\n  * in\n\n* two", "- one\n\n  - in\n\n- two"),
    "numbers": ("1. one\n2. two", "1. one\n1. two"),
    "definition": ("term\n    What it is.", "- **term**\n\n  What it is."),
    "note": (".. note:: Mind\n   the gap.", "> **Note** Mind\n> the gap."),
    "warning with paragraphs": (".. warning::\n\n   One.\n\n   Two.", "> **Warning** One.\n>\n> Two."),
    "a titled part keeps its text": (
        ".. admonition:: In short\n\n   One.\n   More.\n\n   Two.",
        "**In short**\n\nOne.\nMore.\n\nTwo.",
    ),
    "code block": (".. code-block:: sql\n   :linenos:\n\n   SELECT 1", "```sql\nSELECT 1\n```"),
    "heading": ("Title\n=====\n\nText.", "**Title**\n\nText."),
    "comment and target are left out": (".. a comment\n\n.. _here:\n\nText.", "Text."),
    "quote": ("Said:\n\n   Indeed.", "Said:\n\n> Indeed."),
    "line block": ("| one\n| two", "one\\\ntwo"),
    "marks that CommonMark would take": ("# not a heading", "\\# not a heading"),
    "brackets and angles": ("a[0] <b>", "a\\[0\\] \\<b>"),
}


def convert(text):
    sink = MentionSink(text.split("\n"))
    facts = DocFacts()
    return convert_blocks(dedent(text).split("\n"), 1, sink, facts), sink.mentions, facts


class Blocks(unittest.TestCase):
    def test_every_block(self):
        for name, (source, expected) in CASES.items():
            with self.subTest(name):
                self.assertEqual(convert(source)[0], expected)

    def test_tables_become_tables(self):
        simple = "====  =====\nname  what\n====  =====\na     one\nb     two\n====  =====\n"
        grid = "+---+---+\n| n | w |\n+===+===+\n| a | 1 |\n+---+---+\n"
        self.assertEqual(convert(simple)[0], "| name | what |\n| --- | --- |\n| a | one |\n| b | two |")
        self.assertEqual(convert(grid)[0], "| n | w |\n| --- | --- |\n| a | 1 |")

    def test_a_table_with_spans_stays_readable_as_it_is(self):
        odd = "+---+---+\n| a     |\n+---+---+\n"
        self.assertEqual(convert(odd)[0], f"```\n{odd}```")

    def test_versions_are_facts_of_the_symbol(self):
        text, _, facts = convert(
            ".. versionadded:: 1.2\n\n.. versionchanged:: 2.0\n   Faster.\n\n.. deprecated:: 3.0 Use :func:`g`.\n"
        )
        self.assertEqual((text, facts.since), ("", "1.2"))
        self.assertEqual([(c.version, c.text) for c in facts.changes], [("2.0", "Faster.")])
        self.assertEqual((facts.deprecated.since, facts.deprecated.instead), ("3.0", "g"))

    def test_mentions_keep_their_lines_through_nesting(self):
        source = "Text.\n\n* one\n* see :func:`f`\n\n.. note::\n\n   Also :func:`g`.\n"
        _, mentions, _ = convert(source)
        self.assertEqual([(m.name, m.line) for m in mentions], [("f", 4), ("g", 8)])

    def test_a_note_on_a_parameter_deprecates_nothing_else(self):
        for note in ("*hash* is deprecated in favor of *unsafe_hash*.", "Passing a list."):
            with self.subTest(note):
                facts = DocFacts()
                text = convert_blocks([f".. deprecated:: 24.1 {note}"], 1, MentionSink([]), facts)
                self.assertIsNone(facts.deprecated)
                self.assertIn("**Deprecated since 24.1.**", text)

    def test_replacements_named_in_deprecations(self):
        cases = {
            "Use `new` instead.": "new",
            "Please use [`a.b`](api:a.b).": "a.b",
            "It is slow.": "",
            "replaced by ``x()``": "x",
        }
        for text, name in cases.items():
            with self.subTest(text):
                self.assertEqual(instead_in(text), name)

    @given(
        st.lists(
            st.sampled_from(
                [
                    "",
                    "text",
                    "* item",
                    "  in",
                    "    deep",
                    "::",
                    ".. note::",
                    "====",
                    "+--+",
                    "| x",
                    ":f: v",
                    ">>> 1",
                    "1. a",
                ]
            ),
            max_size=12,
        )
    )
    def test_any_mix_of_lines_converts_to_something_that_parses(self, lines):
        text, _, _ = convert("\n".join(lines))
        MarkdownIt("commonmark").parse(text)


if __name__ == "__main__":
    unittest.main()
