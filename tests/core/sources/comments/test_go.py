"""Go's documentation comments: paragraphs, headings, lists, code and links."""

import unittest

from zarbek.core.sources.comments.go import read_go_comment
from zarbek.core.sources.markup.inline import MentionSink


def read(text, known=frozenset({"bytes"})):
    lines = text.split("\n")
    sink = MentionSink(lines)
    return read_go_comment(lines, 1, sink, known), sink.mentions


class GoComments(unittest.TestCase):
    def test_the_first_sentence_is_the_summary(self):
        doc, _ = read("Sail goes to a harbour. It takes\na while.\n\nIt may sink.")
        self.assertEqual(doc.summary, "Sail goes to a harbour.")
        self.assertEqual(doc.body.split(), "It takes a while. It may sink.".split())

    def test_a_heading_stands_alone(self):
        doc, _ = read("Package sea sails.\n\n# Boats\n\nThere are some.\n\nnot\n# a heading\nhere")
        self.assertEqual([(s.title, s.text.split("\n\n")[0]) for s in doc.sections], [("Boats", "There are some.")])
        self.assertIn("heading", doc.sections[0].text)

    def test_an_indented_block_is_code_as_it_is(self):
        doc, mentions = read("Sail sails:\n\n\tboat.Sail([]byte{1})\n\n\tboat.Row()\n\nAfterwards.")
        self.assertRegex(doc.body, r"```\w*\nboat\.Sail\(\[\]byte\{1\}\)\n\nboat\.Row\(\)\n```")
        self.assertEqual(mentions, [])

    def test_lists(self):
        doc, _ = read("Either of\n  - a boat\n    of wood\n  - a raft\n\nIn order:\n 1. build\n 2. sail")
        self.assertRegex(doc.summary + doc.body, r"- a boat\s+of wood\n- a raft")
        self.assertRegex(doc.body, r"1\. build\n2\. sail")

    def test_links_are_exported_or_of_an_import(self):
        doc, mentions = read("Uses [Boat], [*Raft], [bytes.Buffer], [Boat.Sail] and x[index] but no [thing].")
        self.assertEqual([m.name for m in mentions], ["Boat", "Raft", "bytes.Buffer", "Boat.Sail"])
        self.assertIn(r"\[thing\]", doc.summary)

    def test_a_link_definition_is_no_text(self):
        doc, mentions = read("See [the sea] for more.\n\n[the sea]: https://sea.example/all")
        self.assertEqual(doc.summary, "See [the sea](<https://sea.example/all>) for more.")
        self.assertEqual([(m.name, m.origin) for m in mentions], [("https://sea.example/all", "url")])
        self.assertEqual(doc.body, "")

    def test_deprecated_is_a_paragraph_that_begins_so(self):
        doc, _ = read("Row rows.\n\nDeprecated: use [Sail] instead.")
        self.assertEqual(doc.deprecated.instead, "Sail")
        self.assertIsNone(read("Row is Deprecated: no.")[0].deprecated)


if __name__ == "__main__":
    unittest.main()
