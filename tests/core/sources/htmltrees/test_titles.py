"""What is a title's own."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.htmltrees.titles import TitleFrame, frame_of

TITLES = st.lists(st.text("abc -|:(", max_size=12), max_size=12)


class Titles(unittest.TestCase):
    def test_what_all_begin_or_end_with(self):
        for titles, own in (
            (["Float (Pontoon 2)", "Deck (Pontoon 2)", "Chain (Pontoon 2)"], ["Float", "Deck", "Chain"]),
            (["Pontoon 2: Float", "Pontoon 2: Deck", "Pontoon 2: Deck: members"], ["Float", "Deck", "Deck: members"]),
            (["Pontoon -- a", "Pontoon -- b", "Pontoon -- c"], ["a", "b", "c"]),
            (["a | P | H", "b | P | H", "c | Q | H"], ["a | P", "b | P", "c | Q"]),
            (["P: a: List", "P: b: List", "P: List"], ["a", "b", "List"]),
            (["Float", "Deck", "Chain"], ["Float", "Deck", "Chain"]),
        ):
            with self.subTest(titles[0]):
                frame = frame_of(titles)
                self.assertEqual([frame.own_part(title) for title in titles], own)

    def test_parts_of_a_tree_may_each_have_a_name(self):
        titles = [f"{part}: {n}" for part in ("Pontoon", "Pontoon-extra") for n in range(5)]
        self.assertEqual({frame_of(titles).own_part(title) for title in titles}, set("01234"))

    def test_a_title_that_is_all_frame_stays(self):
        self.assertEqual(TitleFrame(["Pontoon: "], [" (2)"]).own_part("Pontoon: "), "Pontoon: ")

    @given(TITLES)
    def test_an_own_part_is_a_part_of_its_title(self, titles):
        frame = frame_of(titles)
        for title in titles:
            self.assertIn(frame.own_part(title), title)
            self.assertEqual(bool(frame.own_part(title)), bool(title))


if __name__ == "__main__":
    unittest.main()
