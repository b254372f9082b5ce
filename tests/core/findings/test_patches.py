"""Patches change the wrong name and nothing else, and git takes them."""

import subprocess
import tempfile
import unittest
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.findings.patches import Edit, apply_edits, replacement_for, unified_diff


class Replacements(unittest.TestCase):
    def check(self, written, old, new, expected):
        with self.subTest(written):
            self.assertEqual(replacement_for(written, old, new), expected)

    def test_the_author_s_way_of_writing_stays(self):
        old, new = "tide.windows.MIN", "tide.windows.LEAST"
        self.check("tide.windows.MIN", old, new, new)
        self.check("~tide.windows.MIN", old, new, "~" + new)
        self.check("windows.MIN", old, new, "windows.LEAST")
        self.check("MIN", old, new, "LEAST")
        self.check("MIN", old, "tide.spans.LEAST", "tide.spans.LEAST")
        self.check("tide.windows.MIN()", old, new, new + "()")
        self.check("`keel::old`", "keel::old", "keel::new", "`keel::new`")
        self.check("old", "keel::a::old", "keel::a::new", "new")
        self.check("api://tide@1.x/tide.windows.MIN#a", old, new, "api://tide@1.x/tide.windows.LEAST#a")
        self.check("w.MIN", old, new, new)

    def test_members_of_java(self):
        old, new = "a.Berth.reserve(int)", "a.Berth.book(long)"
        self.check("a.Berth#reserve(int)", old, new, "a.Berth#book(long)")
        self.check("Berth#reserve", old, new, "Berth#book")
        self.check("#reserve", old, new, "#book")
        self.check("#reserve", old, "a.Quay.book()", None)

    def test_what_cannot_be_told_is_not_guessed(self):
        self.check("api://tide/tide.other", "tide.old", "tide.new", None)
        self.check("other", "tide.old", "tide.new", None)


class Edits(unittest.TestCase):
    def edited(self, text, *edits):
        return apply_edits(text, [Edit("f", line, column, old, new) for line, column, old, new in edits])

    def test_only_the_name_at_its_place(self):
        text, made, left = self.edited("x.old x.older x.old.\n", (1, 1, "x.old", "x.new"), (1, 15, "x.old", "x.fresh"))
        self.assertEqual((text, len(made), left), ("x.new x.older x.fresh.\n", 2, []))

    def test_what_is_not_there_or_not_clear_is_left(self):
        for line, column, old in ((1, 0, "x.old"), (9, 1, "x.old"), (1, 0, "gone"), (2, 1, "old")):
            text, made, left = self.edited("x.old and x.old\nmy.old_name", (line, column, old, "new"))
            self.assertEqual((text, made, len(left)), ("x.old and x.old\nmy.old_name", [], 1))

    def test_two_mentions_in_one_line_are_two_edits_even_at_one_column(self):
        text, made, left = self.edited("x.old, x.old", (1, 1, "x.old", "y"), (1, 1, "x.old", "y"))
        self.assertEqual((text, len(made), left), ("y, y", 2, []))

    def test_overlapping_edits_are_made_once(self):
        text, made, _ = self.edited("~a.b and <a.b>", (1, 1, "~a.b", "~a.c"), (1, 2, "a.b", "a.c"))
        self.assertEqual((text, len(made)), ("~a.c and <a.c>", 2))

    @given(st.text(st.sampled_from("ab.\n\r\x0c é"), max_size=60), st.integers(0, 5), st.integers(0, 9))
    def test_nothing_but_the_name_changes_and_git_takes_it(self, text, line, column):
        edited, made, _ = self.edited(text, (line, column, "a", "LONGER"))
        self.assertEqual(edited.replace("LONGER", "a") if made else edited, text)
        if not made:
            self.assertEqual(unified_diff("f", text, edited), "")

    def test_git_applies_the_diff(self):
        for text in ("a\n\nb old\nc\n", "old", "x\r\nold\r\n", "\x0cold \u2028 é\nlast"):
            with self.subTest(text), tempfile.TemporaryDirectory() as folder:
                subprocess.run(["git", "init", "-q", folder], check=True)
                path = Path(folder, "dir name", "é.txt")
                path.parent.mkdir()
                path.write_bytes(text.encode())
                line = text[: text.index("old")].count("\n") + 1
                edited, _, _ = self.edited(text, (line, 0, "old", "new"))
                diff = unified_diff("dir name/é.txt", text, edited)
                subprocess.run(["git", "-C", folder, "apply", "-"], input=diff.encode(), check=True)
                self.assertEqual(path.read_bytes().decode(), text.replace("old", "new"))


if __name__ == "__main__":
    unittest.main()
