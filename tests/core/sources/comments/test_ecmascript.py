"""Documentation comments of JavaScript and TypeScript."""

import unittest

from zarbek.core.sources.comments.ecmascript import read_ecmascript_comment
from zarbek.core.sources.markup.inline import MentionSink


def read(text):
    raw = "/**\n" + "\n".join(f" * {row}" for row in text.split("\n")) + "\n */"
    sink = MentionSink(raw.split("\n"))
    return read_ecmascript_comment(raw, 1, sink), sink.mentions


class EcmascriptComments(unittest.TestCase):
    def test_types_in_braces(self):
        found, mentions = read(
            "Sails.\n\n@param {Port|null} port - where to\n@returns {Promise<Way>} the way\n@throws {SinkError} if it sinks"
        )
        doc = found.doc
        self.assertEqual([(p.name, p.type, p.text) for p in doc.parameters], [("port", "Port|null", "where to")])
        self.assertEqual([(r.type, r.text) for r in doc.returns], [("Promise<Way>", "the way")])
        self.assertEqual([(r.name or r.type, r.text) for r in doc.raises], [("SinkError", "if it sinks")])
        self.assertEqual([(m.name, m.origin, m.line) for m in mentions], [("SinkError", "raises", 6)])

    def test_a_parameter_may_be_left_out(self):
        doc = read("@param {string} [name=boat] what it is called\n@param {number} [size]")[0].doc
        self.assertEqual([(p.name, p.optional) for p in doc.parameters], [("name", True), ("size", True)])

    def test_each_form_of_link(self):
        found, mentions = read(
            "As {@link Boat.sail}, {@link Boat | the boat}, {@link Boat the same}, [a raft]{@link Raft} and [sea](https://sea.example/)."
        )
        self.assertEqual([m.name for m in mentions], ["Boat.sail", "Boat", "Boat", "Raft", "https://sea.example/"])
        for shown in ("[the boat](", "[the same](", "[a raft]("):
            self.assertIn(shown, found.doc.summary)

    def test_names_in_code_may_say_that_they_are_of_an_object(self):
        _, mentions = read("As `Boat#sail()`, `Boat.sail` and `a # b` do.")
        self.assertEqual(
            [(m.text, m.name) for m in mentions], [("Boat#sail()", "Boat.sail()"), ("Boat.sail", "Boat.sail")]
        )

    def test_a_link_may_run_over_lines(self):
        _, mentions = read("As {@link\nBoat | the boat} does.")
        self.assertEqual([m.name for m in mentions], ["Boat"])

    def test_examples_and_remarks(self):
        doc = read("Sails.\n\n@remarks\nSlowly.\n\n@example\n```ts\nboat.sail({@link x});\n```")[0].doc
        self.assertIn("examples", [s.kind for s in doc.sections])
        self.assertIn("boat.sail({@link x});", next(s.text for s in doc.sections if s.kind == "examples"))
        self.assertIn("Slowly.", doc.body + " ".join(s.text for s in doc.sections))

    def test_what_is_not_for_callers(self):
        for tag in ("internal", "private", "hidden", "ignore"):
            self.assertEqual((tag, read(f"Sails.\n@{tag}")[0].hidden), (tag, True))
        self.assertEqual(read("Sails.\n@beta")[0].hidden, False)

    def test_a_decorator_in_code_is_no_tag(self):
        doc = read("Sails.\n\n```ts\n@param()\nclass A {}\n```")[0].doc
        self.assertEqual(doc.parameters, [])
        self.assertIn("@param()", doc.body)


if __name__ == "__main__":
    unittest.main()
