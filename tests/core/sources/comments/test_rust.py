"""Rust's documentation comments: CommonMark with links by path."""

import unittest

from zarbek.core.sources.comments.rust import read_rust_comment
from zarbek.core.sources.markup.inline import MentionSink


def read(text):
    lines = text.split("\n")
    sink = MentionSink(lines)
    return read_rust_comment(lines, 1, sink), sink.mentions


class RustComments(unittest.TestCase):
    def test_the_first_paragraph_is_the_summary(self):
        doc, _ = read("Sails to a harbour\nslowly.\n\nIt may sink.")
        self.assertEqual((doc.summary, doc.body), ("Sails to a harbour slowly.", "It may sink."))

    def test_headings_of_the_first_level_begin_sections(self):
        doc, _ = read(
            "Sails.\n\n# Errors\n\nIf it sinks.\n\n## Below\n\nStill.\n\n# Examples\n\n```\nsail();\n# hidden\n```"
        )
        self.assertEqual([(s.kind, s.title) for s in doc.sections], [("free", "Errors"), ("examples", "")])
        self.assertIn("## Below", doc.sections[0].text)

    def test_each_form_of_link(self):
        _, mentions = read(
            "A [`Boat`], a [raft](crate::Raft), a [sail][Boat::sail], a [`row()`], [the sea](https://sea.example/)\n"
            "and a [boat].\n\n[boat]: struct@Boat"
        )
        self.assertEqual(
            [(m.name, m.origin) for m in mentions if m.origin != "url"],
            [("Boat", "link"), ("crate::Raft", "link"), ("Boat::sail", "link"), ("row", "link"), ("Boat", "link")],
        )
        self.assertEqual([m.name for m in mentions if m.origin == "url"], ["https://sea.example/"])

    def test_a_namespace_word_asks_for_a_kind(self):
        _, mentions = read("Either [`fn@sail`], [`macro@sail`] or [`sail!`].")
        self.assertEqual([m.name.strip("!") for m in mentions], ["sail", "sail", "sail"])
        self.assertGreater(len({m.role for m in mentions}), 1)

    def test_brackets_in_code_are_code(self):
        doc, mentions = read("Takes `&[Boat]`.\n\n```\nlet a = b[Boat];\n```\n\n    c[Boat]")
        self.assertEqual(mentions, [])
        self.assertIn("let a = b[Boat];", doc.body)

    def test_lines_that_a_test_hides_are_hidden(self):
        doc, _ = read("Sails.\n\n```\n# use sea::Boat;\nboat.sail();\n## a hash\n```")
        self.assertNotIn("use sea::Boat", doc.body)
        self.assertRegex(doc.body, r"boat\.sail\(\);\n# a hash")


if __name__ == "__main__":
    unittest.main()
