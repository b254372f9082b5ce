"""Kotlin's documentation comments: Markdown, links by name, block tags."""

import unittest

from zarbek.core.sources.comments.kotlin import read_kotlin_comment
from zarbek.core.sources.markup.inline import MentionSink


def read(text, parameters=frozenset()):
    raw = "/**\n" + "\n".join(f" * {row}" for row in text.split("\n")) + "\n */"
    sink = MentionSink(raw.split("\n"))
    return read_kotlin_comment(raw, 1, sink, parameters).doc, sink.mentions


class KotlinComments(unittest.TestCase):
    def test_links_by_name_and_with_a_label(self):
        doc, mentions = read("Sails as [Boat.sail] does, see [the boat][Boat] and [the sea](https://sea.example/).")
        self.assertEqual(
            [(m.name, m.origin) for m in mentions],
            [("Boat.sail", "link"), ("Boat", "link"), ("https://sea.example/", "url")],
        )
        self.assertIn("[the sea](https://sea.example/)", doc.summary)

    def test_a_parameter_has_no_page(self):
        doc, mentions = read("Sails to [port].", frozenset({"port"}))
        self.assertEqual((doc.summary, mentions), ("Sails to `port`.", []))

    def test_code_holds_no_links(self):
        doc, mentions = read("Takes `a[Boat]` only.\n\n```kotlin\nval x = y[Boat]\n```")
        self.assertEqual(mentions, [])
        self.assertIn("y[Boat]", doc.body)

    def test_block_tags(self):
        doc, mentions = read(
            "Sails.\n\n@param T what is carried\n@param[port] where to\n@return the way\n@throws SinkException if it sinks\n"
            "@property deck what one stands on\n@since 1.3\n@see Boat"
        )
        self.assertEqual([(p.name, p.text) for p in doc.parameters], [("T", "what is carried"), ("port", "where to")])
        self.assertEqual([(a.name, a.text) for a in doc.attributes], [("deck", "what one stands on")])
        self.assertEqual(([r.text for r in doc.returns], doc.since), (["the way"], "1.3"))
        self.assertEqual([(m.name, m.origin) for m in mentions], [("SinkException", "raises"), ("Boat", "see")])

    def test_an_empty_comment_says_nothing(self):
        sink = MentionSink(["/** */"])
        self.assertEqual(read_kotlin_comment("/** */", 1, sink, frozenset()).doc.summary, "")


if __name__ == "__main__":
    unittest.main()
