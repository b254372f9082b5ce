"""Comments as their authors wrote them."""

import unittest

from zarbek.core.sources.comments.comment_blocks import block_lines, marked_lines, trim, wrong_comment


class Lines(unittest.TestCase):
    def test_the_frame_of_a_block_goes(self):
        self.assertEqual(block_lines("/** One.\n *\n *   two\n no star\n */"), ["One.", "", "  two", " no star", ""])
        self.assertEqual(block_lines("/**\n    One.\n      two\n */"), ["", "One.", "  two", ""])

    def test_marks_of_lines_go_with_one_blank(self):
        self.assertEqual(marked_lines(["/// One.", "///   two", "///"], 3), ["One.", "  two", ""])

    def test_empty_lines_at_both_ends_go(self):
        self.assertEqual(trim(["", " ", "a", "", "b", ""], 5), (["a", "", "b"], 7))
        self.assertEqual(trim(["", ""], 5), ([], 7))


class WrongComments(unittest.TestCase):
    def judge(self, text, name="sailAway"):
        return wrong_comment(text, path=f"sea.{name}", name=name, file="a.x", line=4, form="/** … */")

    def test_a_sentence_about_the_element_is_told(self):
        found = self.judge("// Sails away from the harbour.")
        self.assertEqual(
            (found.rule, found.severity, found.line, found.suggestion), ("text/wrong-comment", "note", 4, "/** … */")
        )
        self.assertEqual(found.text, "Sails away from the harbour.")

    def test_notes_code_and_what_is_about_something_else_are_not(self):
        for text in (
            "// TODO: sail away later on", "// eslint-disable-next-line sail away", "// return sailAway(boat);",
            "// Copyright of those who sail", "// The crew is hungry now.", "// sails", "// ---- sail away ----",
            "// NOLINT(sail) because of away",
        ):  # fmt: skip
            self.assertEqual((text, self.judge(text)), (text, None))


if __name__ == "__main__":
    unittest.main()
