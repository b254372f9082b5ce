"""Lines on a terminal and in a pipe."""

import io
import re
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.cli.lines import PlainLines, lines_for
from zarbek.cli.terminal import TerminalLines

PARTS = (("sea.sail", "bold"), ("  function, sea 1.0", "dim"), " and [bold]:smile: more")


class Terminal(io.StringIO):
    def isatty(self):
        return True


class Lines(unittest.TestCase):
    def test_a_pipe_gets_the_words_and_a_terminal_their_styles(self):
        pipe, terminal = io.StringIO(), Terminal()
        self.assertIsInstance(lines_for(pipe), PlainLines)
        self.assertIsInstance(lines_for(terminal), TerminalLines)
        for out in (pipe, terminal):
            lines_for(out).write(*PARTS, indent=2)
        self.assertEqual(pipe.getvalue(), "  sea.sail  function, sea 1.0 and [bold]:smile: more\n")
        self.assertEqual(re.sub(r"\x1b\[[\d;]*m", "", terminal.getvalue()).rstrip(), pipe.getvalue().rstrip())

    def test_a_pipe_cuts_nothing(self):
        out = io.StringIO()
        lines_for(out).write("word " * 200, indent=4)
        self.assertEqual(out.getvalue(), "    " + "word " * 200 + "\n")

    @given(st.text(alphabet="a\a\b\x0b\x0c\rb", max_size=20))
    def test_no_name_rings_or_moves_the_cursor(self, text):
        out = io.StringIO()
        lines_for(out).write(text)
        self.assertEqual(out.getvalue(), "".join(c for c in text if c in "ab") + "\n")


if __name__ == "__main__":
    unittest.main()
