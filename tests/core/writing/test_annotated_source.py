import unittest
from textwrap import dedent

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.writing.annotated_source import WINDOW, annotate, end_of_window, lexer_for, part_html, tokens_of
from zarbek.core.writing.code_tokens import CodeLink
from zarbek.core.writing.shown import Shown


def rows_of(text, file="a.py", documented=(), links=()):
    return annotate(tokens_of(text, lexer_for(file, "")), dict(documented), links)


class Rows(unittest.TestCase):
    def test_comments_stand_beside_what_they_are_of(self):
        text = dedent("""\
            # The tide.
            #
            # Twice a day.
            HEIGHT = 3  # metres

            def rise(at):
                \"\"\"How it rises.\"\"\"
                # From the lowest.
                low = 0

                return low
            """)
        rows = rows_of(text, documented={6: True}.items())
        self.assertEqual([(r.line, r.starts, r.words) for r in rows],
                         [(1, [], "The tide.\n\nTwice a day."), (6, [6], ""), (8, [], "From the lowest.")])  # fmt: skip
        self.assertEqual([[(p.line, len(p.lines), p.is_words) for p in r.parts] for r in rows],
                         [[(1, 3, True), (4, 2, False)], [(6, 1, False), (7, 1, True)], [(8, 1, True), (9, 4, False)]])  # fmt: skip

    def test_in_other_languages(self):
        for file, text, words in (
            ("a.hpp", "/** Bilge.\n * Pump it. */\nint pump();\n", "Bilge.\nPump it."),
            ("a.rs", "/// A hull.\n#[derive(Debug)]\npub struct Hull;\n", "A hull."),
            ("a.go", "// Mast sends.\nfunc Send() {}\n", "Mast sends."),
            ("a.sql", "-- Crossings.\nselect 1;\n", "Crossings."),
            ("a.ts", "/* A board. */\nexport class Board {}\n", "A board."),
        ):  # fmt: skip
            with self.subTest(file):
                at = text.count("\n")
                (row,) = rows_of(text, file, {at: False}.items())
                self.assertEqual((row.starts, row.words), ([at], words))

    def test_preprocessing_is_code(self):
        (row,) = rows_of("#include <sea.h>\nint x;\n", "a.h")
        self.assertEqual(row.words, "")

    def test_links_stand_at_their_names_and_nothing_is_lost(self):
        text = 'x = "a<b"\nrise(x)\n'
        (row,) = rows_of(text, links=[CodeLink(10, 14, Shown("/ref/x"))])
        html = str(part_html(row.parts[0]))
        self.assertIn('<a href="/ref/x" rel="noopener">', html)
        self.assertIn("&lt;b", html)

    def test_a_window_ends_at_an_outermost_declaration(self):
        lines = ["x" * 99] * (WINDOW // 100 + 50)
        self.assertEqual(end_of_window(lines, 1, [5, WINDOW // 100 + 20]), WINDOW // 100 + 20)
        self.assertEqual(end_of_window(lines, 100, [5]), len(lines) + 1)
        self.assertEqual(end_of_window(lines[:5], 1, []), 6)
        (row,) = annotate(tokens_of("def f():\n    1\n", lexer_for("a.py", "")), {7: False, 3: True}, [], 7)
        self.assertEqual((row.line, row.starts, row.parts[0].line), (7, [7], 7))

    @given(st.text("ab #\n\"'/*x=()<>&;", max_size=200), st.sampled_from(["a.py", "a.c", "a.unknown", "a.rs"]))
    def test_every_line_stands_once_and_in_order(self, text, file):
        rows = rows_of(text, file, {1: False}.items())
        numbers = [p.line + n for r in rows for p in r.parts for n in range(len(p.lines))]
        self.assertEqual(numbers, list(range(1, text.count("\n") + 2)))


if __name__ == "__main__":
    unittest.main()
