"""Java's documentation comments: block tags, inline tags and HTML."""

import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from zarbek.core.sources.comments.java import read_java_comment, shown_reference, split_reference
from zarbek.core.sources.markup.inline import MentionSink


def read(text):
    """A comment's structure and its mentions; text: what stands between the marks."""
    raw = "/**\n" + "\n".join(f" * {row}" for row in text.split("\n")) + "\n */"
    sink = MentionSink(raw.split("\n"))
    return read_java_comment(raw, 1, sink).doc, sink.mentions


class BlockTags(unittest.TestCase):
    def test_each_part_has_its_place(self):
        doc, mentions = read(
            "Sails to a harbour. Slowly.\n\n@param <T> what is carried\n@param port where to\n    and why\n"
            "@return the way\n@throws java.io.IOException if it sinks\n@since 1.2\n@author A. Sailor\n"
            "@deprecated use {@link #fly} instead"
        )
        self.assertEqual((doc.summary, doc.body), ("Sails to a harbour.", "Slowly."))
        self.assertEqual([(p.name, p.text) for p in doc.type_parameters], [("T", "what is carried")])
        self.assertEqual(
            [(p.name, p.text.split(), p.line) for p in doc.parameters], [("port", ["where", "to", "and", "why"], 5)]
        )
        self.assertEqual([r.text for r in doc.returns], ["the way"])
        self.assertEqual([(r.name, r.text) for r in doc.raises], [("java.io.IOException", "if it sinks")])
        self.assertEqual((doc.since, doc.author), ("1.2", "A. Sailor"))
        self.assertEqual(doc.deprecated.instead, "fly")
        self.assertEqual(
            [(m.name, m.origin, m.line) for m in mentions],
            [("java.io.IOException", "raises", 8), ("#fly", "link", 11)],
        )

    def test_each_form_of_see(self):
        doc, mentions = read(
            '@see Boat#sail(int) the sails\n@see <a href="https://sea.example/">The sea</a>\n@see "A book"'
        )
        self.assertEqual(
            [(m.name, m.origin) for m in mentions], [("Boat#sail(int)", "see"), ("https://sea.example/", "url")]
        )
        self.assertEqual((doc.see[0].name, len(doc.see)), ("Boat#sail(int)", 3))

    def test_an_at_sign_within_a_line_begins_no_tag(self):
        doc, mentions = read("Mail to crew@sea.example, a @param of nothing.")
        self.assertEqual(
            (doc.summary, doc.parameters, mentions), ("Mail to crew@sea.example, a @param of nothing.", [], [])
        )


class InlineTags(unittest.TestCase):
    def test_code_and_literal_show_what_stands_there(self):
        doc, mentions = read("Compares {@code a < b && c} and {@literal <i>*x*</i>}.")
        self.assertEqual(doc.summary, r"Compares `a < b && c` and \<i>\*x\*\</i>.")
        self.assertEqual(mentions, [])

    def test_braces_inside_an_inline_tag_balance(self):
        doc, _ = read("Writes {@code {a: {b}}} as it is.")
        self.assertEqual(doc.summary, "Writes `{a: {b}}` as it is.")

    def test_a_link_shows_its_label_or_its_name(self):
        doc, mentions = read("See {@link a.Boat#sail(int, long) sailing}, {@linkplain a.Boat} and {@link #row()}.")
        self.assertIn("sailing", doc.summary)
        self.assertIn("`row()`", doc.summary)
        self.assertEqual([m.name for m in mentions], ["a.Boat#sail(int, long)", "a.Boat", "#row()"])

    def test_return_says_its_sentence_where_it_stands(self):
        doc, _ = read("{@return the way}")
        self.assertEqual(doc.summary, "Returns the way.")

    def test_a_snippet_is_code(self):
        doc, mentions = read(
            'Do so:\n{@snippet :\n  boat.sail(); // @highlight substring="sail"\n    // @link substring="row" target="Boat#row()" :\n'
            '    boat.row(); {}\n}\n<ul><li>And so: {@snippet lang="xml" :\n<sea/>\n}</ul>'
        )
        self.assertEqual(doc.summary, "Do so:")
        self.assertEqual(
            doc.body, "```java\nboat.sail();\n  boat.row(); {}\n```\n\n- And so:\n\n  ```xml\n  <sea/>\n  ```"
        )
        self.assertEqual([(m.name, m.line) for m in mentions], [("Boat#row()", 5)])

    def test_a_snippet_of_another_file_is_not_shown(self):
        self.assertEqual(read('Sails. {@snippet file="Sail.java" region="x"}')[0].summary, "Sails.")


class References(unittest.TestCase):
    def test_blanks_in_parentheses_belong_to_the_name(self):
        self.assertEqual(split_reference("Boat#sail(int, long) the sails"), ("Boat#sail(int, long)", "the sails"))
        self.assertEqual(split_reference("Boat the boat"), ("Boat", "the boat"))
        self.assertEqual(split_reference("Map<String, Boat> all"), ("Map<String, Boat>", "all"))

    def test_what_readers_see(self):
        shown = {"a.b.Boat#sail(int)": "Boat.sail(int)", "#row": "row", "Boat": "Boat", "a.b.Boat": "Boat"}
        self.assertEqual({name: shown_reference(name) for name in shown}, shown)

    @settings(max_examples=200)
    @given(st.text(alphabet="{}@<>#*/ \nabcodelinkpr&;.\"'()", max_size=80))
    def test_anything_is_read_and_mentions_stand_in_it(self, text):
        doc, mentions = read(text.replace("*/", ""))
        self.assertLessEqual({m.line for m in mentions}, set(range(1, text.count("\n") + 4)))
        self.assertNotIn("\x00", doc.summary + doc.body)


if __name__ == "__main__":
    unittest.main()
