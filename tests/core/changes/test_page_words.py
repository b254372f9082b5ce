"""What one page says differently, word by word."""

import time
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.changes.page_words import MAX_SENTENCES, compare_sections
from zarbek.core.model.page import Section

WORDS = st.lists(st.sampled_from(["moor", "at", "dawn.", "never", "sink;", "A", "deck."]), max_size=8).map(" ".join)


def told(old, new):
    """One section's passages, with what went and came marked."""
    marks = {"same": "{}", "gone": "-{}", "come": "+{}"}
    changes = compare_sections([Section("", "", old)], [Section("", "", new)])
    return [marks[p.sign].format(p.text) for change in changes for p in change.passages]


def said(change, sign):
    return " ".join(p.text for p in change.passages if p.sign in ("same", sign))


class Words(unittest.TestCase):
    def test_what_went_and_came_stands_between_the_words_that_stay(self):
        self.assertEqual(
            told("Moor at dawn. Never sink a deck.", "Moor at noon. Never sink a deck."),
            ["Moor at", "-dawn.", "+noon.", "Never sink a deck."],
        )
        self.assertEqual(told("Moor it.", "Moor it.\n"), [], "spaces say nothing")
        self.assertEqual(told("", "Moor it."), ["+Moor it."])

    def test_of_what_stays_the_words_beside_it_are_told(self):
        before = " ".join(f"w{n}" for n in range(40))
        self.assertEqual(
            told(f"{before} old.", f"{before} new."),
            ["\u2026 " + " ".join(f"w{n}" for n in range(32, 40)), "-old.", "+new."],
        )

    def test_sections_belong_together_by_place_else_by_title(self):
        old = [
            Section("", "", "One."),
            Section("a", "Mooring", "At dawn."),
            Section("b", "Lines", "Of hemp."),
            Section("c", "Rust", "Scrape."),
            Section("e", "Salt", ""),
        ]
        new = [
            Section("", "", "One."),
            Section("x", "Mooring", "At noon."),
            Section("b", "Ropes", "Of hemp."),
            Section("d", "Paint", "Green."),
        ]
        found = [(c.kind, c.anchor, said(c, "gone"), said(c, "come")) for c in compare_sections(old, new)]
        self.assertEqual(found, [
            ("text", "x", "At dawn.", "At noon."), ("text", "b", "Lines. Of hemp.", "Ropes. Of hemp."),
            ("added", "d", "", "Green."), ("removed", "c", "Scrape.", ""), ("removed", "e", "Salt", ""),
        ])  # fmt: skip

    def test_the_longest_pages_are_compared_soon(self):
        old = "same. " * 50 * MAX_SENTENCES
        began = time.process_time()
        self.assertTrue(told(old, "other. " * 50 * MAX_SENTENCES))
        self.assertTrue(told(old, "same. other. " * 25 * MAX_SENTENCES))
        self.assertTrue(told("same " * 10**6, "same " * 10**6 + "other"))
        self.assertLess(time.process_time() - began, 20)

    @given(WORDS, WORDS)
    def test_both_texts_can_be_read_from_it(self, old, new):
        changes = compare_sections([Section("a", "", old)], [Section("a", "", new)])
        self.assertEqual(bool(changes), old.split() != new.split())
        for change in changes:
            self.assertEqual(said(change, "gone"), " ".join(old.split()))
            self.assertEqual(said(change, "come"), " ".join(new.split()))


if __name__ == "__main__":
    unittest.main()
