"""C#'s documentation comments: XML elements with references by cref."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.model.doc_text import INHERIT
from zarbek.core.sources.comments.csharp import clean_cref, read_csharp_comment, shown_cref
from zarbek.core.sources.markup.inline import MentionSink


def read(text):
    lines = text.split("\n")
    sink = MentionSink(lines)
    return read_csharp_comment(lines, 1, sink).doc, sink.mentions


class Elements(unittest.TestCase):
    def test_each_part_has_its_place(self):
        doc, mentions = read(
            '<summary>Sails to a <see cref="Harbour"/>. Slowly.</summary>\n<typeparam name="T">What is carried.</typeparam>\n'
            '<param name="port">Where to, by <paramref name="way"/>.</param>\n<returns>The way.</returns>\n'
            '<exception cref="T:Sea.SinkException">If it sinks.</exception>\n<remarks>It may sink.</remarks>\n'
            '<example><code>boat.Sail();</code></example>\n<seealso cref="M:Sea.Boat.Row(System.Int32)"/>'
        )
        self.assertRegex(doc.summary, r"^Sails to a \[`Harbour`\]\(api:Harbour\S*\)\.$")
        self.assertEqual(doc.body, "Slowly.\n\nIt may sink.")
        self.assertEqual([(p.name, p.text) for p in doc.type_parameters], [("T", "What is carried.")])
        self.assertEqual([(p.name, p.text) for p in doc.parameters], [("port", "Where to, by `way`.")])
        self.assertEqual([r.text for r in doc.returns], ["The way."])
        self.assertEqual([(r.name, r.text, r.line) for r in doc.raises], [("Sea.SinkException", "If it sinks.", 5)])
        self.assertEqual([s.kind for s in doc.sections], ["examples"])
        self.assertIn("boat.Sail();", doc.sections[0].text)
        self.assertEqual(
            [(m.name, m.field, m.line) for m in mentions],
            [("Harbour", "doc", 1), ("Sea.SinkException", "raises", 5), ("Sea.Boat.Row(System.Int32)", "doc", 8)],
        )

    def test_words_of_the_language_are_code(self):
        doc, mentions = read('<summary>It is <see langword="null"/> or <c>a &lt; b</c>.</summary>')
        self.assertEqual((doc.summary, mentions), ("It is `null` or `a < b`.", []))

    def test_lists_and_paragraphs(self):
        doc, _ = read(
            '<summary>Either:<list type="bullet"><item><description>a boat</description></item><item>a raft</item></list></summary>'
            '<remarks><para>One.</para><para>Two.</para><list type="number"><item><term>first</term><description>build</description></item></list></remarks>'
        )
        self.assertRegex(doc.summary + "\n" + doc.body, r"- a boat\n- a raft")
        self.assertRegex(doc.body, r"One\.\n\nTwo\.\n\n1\. .*first.*build")

    def test_text_may_be_another_elements(self):
        self.assertEqual(read("<inheritdoc/>")[0].summary, INHERIT)
        self.assertEqual(read("<summary>Own.</summary><inheritdoc/>")[0].summary, "Own.")

    def test_what_is_no_xml_is_text(self):
        for text in ("<summary>If a < b & c.</summary>", "<summary>If a < b & c.", "If a < b & c."):
            self.assertEqual((text, read(text)[0].summary), (text, r"If a \< b & c."))

    def test_entities_of_its_own_are_not_resolved(self):
        doc, _ = read("<!DOCTYPE a [<!ENTITY b 'bomb'>]><summary>&b;</summary>")
        self.assertNotIn("bomb", doc.body + doc.summary.replace("'bomb'", ""))

    @given(st.text(alphabet="<>/&;\"'= summarycep", max_size=60))
    def test_anything_is_read(self, text):
        doc, mentions = read(text)
        self.assertEqual({m.line for m in mentions} - {1}, set())
        self.assertIsInstance(doc.summary, str)


class References(unittest.TestCase):
    def test_what_a_cref_means_and_shows(self):
        for cref, meant, shown in (
            ("T:Sea.Boat", "Sea.Boat", "Boat"),
            ("M:Sea.Boat.Row(System.Int32)", "Sea.Boat.Row(System.Int32)", "Boat.Row(System.Int32)"),
            ("List{T}", "List<T>", "List<T>"),
            ("Boat", "Boat", "Boat"),
        ):
            self.assertEqual((clean_cref(cref), shown_cref(cref)), (meant, shown))


if __name__ == "__main__":
    unittest.main()
