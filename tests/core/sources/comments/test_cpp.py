"""C's and C++'s documentation comments: commands, Markdown, names in prose."""

import unittest

from zarbek.core.sources.comments.cpp import is_documentation, is_trailing, read_comment, split_name
from zarbek.core.sources.markup.inline import MentionSink


def read(text):
    raw = "/**\n" + "\n".join(f" * {row}" for row in text.split("\n")) + "\n */"
    sink = MentionSink(raw.split("\n"))
    return read_comment([raw], 1, sink).doc, sink.mentions


class Forms(unittest.TestCase):
    def test_what_documents(self):
        for raw in ("/** a */", "/*! a */", "/// a", "//! a", "///< a", "/**< a */"):
            self.assertEqual((raw, is_documentation(raw), is_trailing(raw)), (raw, True, "<" in raw))
        for raw in ("/* a */", "// a", "//// a", "/*** a ***/", "/**/"):
            self.assertEqual((raw, is_documentation(raw)), (raw, False))

    def test_a_run_of_lines_is_one_comment(self):
        sink = MentionSink(["/// Sails.", "///", "/// @param port where to"])
        doc = read_comment(sink.lines, 1, sink).doc
        self.assertEqual((doc.summary, [(p.name, p.line) for p in doc.parameters]), ("Sails.", [("port", 3)]))


class Commands(unittest.TestCase):
    def test_each_part_has_its_place(self):
        doc, mentions = read(
            "@brief Sails to a harbour.\n\nSlowly.\n\n\\tparam T what is carried\n@param[in] port where to\n@param[out] way how\n"
            "\\return the way\n@retval 0 if it sank\n@throws sea::sink_error if it sinks\n@since 1.2\n@deprecated use sea::fly()\n"
            "@note Beware.\n@sa sea::row"
        )
        self.assertEqual((doc.summary, doc.body), ("Sails to a harbour.", "Slowly."))
        self.assertEqual([(p.name, p.text) for p in doc.type_parameters], [("T", "what is carried")])
        self.assertEqual([(p.name, p.text) for p in doc.parameters], [("port", "where to"), ("way", "how")])
        self.assertEqual(doc.returns[0].text, "the way")
        self.assertIn("if it sank", " ".join(r.text for r in doc.returns))
        self.assertEqual([(r.name, r.text) for r in doc.raises], [("sea::sink_error", "if it sinks")])
        self.assertEqual((doc.since, [s.kind for s in doc.sections]), ("1.2", ["note"]))
        self.assertEqual([m.name for m in mentions], ["sea::sink_error", "sea::fly()", "sea::row"])
        self.assertEqual(doc.deprecated.instead.replace("()", ""), "sea::fly")

    def test_words_are_marked(self):
        doc, _ = read("Takes @p port and \\c null, @b never @e none.")
        self.assertEqual(doc.summary, "Takes `port` and `null`, **never** *none*.")

    def test_code_is_as_it_is(self):
        doc, mentions = read(
            "Sails.\n\n@code{.cpp}\nsea::sail(a[0]); // @p x\n@endcode\n\n@verbatim\nsea::row\n@endverbatim"
        )
        self.assertRegex(doc.body, r"```cpp\nsea::sail\(a\[0\]\); // @p x\n```")
        self.assertRegex(doc.body, r"```\w*\nsea::row\n```")
        self.assertEqual(mentions, [])

    def test_what_is_for_no_reader_is_left_out(self):
        doc, _ = read("Sails.\n@ingroup sea\n@dot\ndigraph { a -> b }\n@enddot\n\nSlowly.")
        self.assertNotRegex(doc.summary + doc.body, "digraph|ingroup")
        self.assertIn("Slowly.", doc.summary + doc.body)

    def test_one_line_may_have_several_commands(self):
        doc, _ = read("Sails. @param port where to @return the way")
        self.assertEqual((doc.summary, doc.parameters[0].text, doc.returns[0].text), ("Sails.", "where to", "the way"))

    def test_formulas_stay_formulas(self):
        doc, _ = read("Is @f$ a_1 * b_2 @f$ long.")
        self.assertRegex(doc.summary, r"a_1 \* b_2")
        self.assertNotIn("@f", doc.summary)


class Names(unittest.TestCase):
    def test_names_in_prose_are_mentions(self):
        _, mentions = read(
            "As sea::boat::sail(int) and row() do, #wheel, %Boat and std::string; not https://sea.example/a::b."
        )
        self.assertEqual(
            [m.name for m in mentions if m.origin != "url"], ["sea::boat::sail(int)", "row()", "wheel", "std::string"]
        )

    def test_links_with_a_label(self):
        doc, mentions = read('See @ref sea::boat "the boat" and @link sea::raft the raft @endlink.')
        self.assertEqual([m.name for m in mentions], ["sea::boat", "sea::raft"])
        self.assertRegex(doc.summary, r"\[the boat\]\(.*\) and \[the raft\]\(")

    def test_the_name_of_a_field(self):
        self.assertEqual(split_name("port where to"), ("port", "where to"))


if __name__ == "__main__":
    unittest.main()
