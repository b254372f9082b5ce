"""Pages of two releases."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.changes.pages import compare_pages
from zarbek.core.linking.index import PageEntry

PATHS = st.lists(st.sampled_from("abcdef"), unique=True, max_size=5)


def page(path, said="", anchors=(), moved_to=""):
    return PageEntry(path, path, path.upper(), 0, 0, list(anchors), "", said or f"says {path}", moved_to)


def told(old, new):
    return [(c.kind, c.path, c.was, c.gone, c.come) for c in compare_pages(old, new)]


class Pages(unittest.TestCase):
    def test_gone_new_and_other_words_and_places(self):
        old = [page("gone"), page("same"), page("deck", "one", ["moor", "sink"]), page("line", anchors=["a"])]
        new = [page("same"), page("deck", "two", ["moor", "lift"]), page("line", anchors=["a", "b"]), page("crane")]
        self.assertEqual(told(old, new), [
            ("removed", "gone", "", [], []), ("text", "deck", "", ["sink"], ["lift"]), ("places", "line", "", [], ["b"]),
            ("added", "crane", "", [], []),
        ])  # fmt: skip

    def test_what_says_the_same_has_moved_where_only_one_does(self):
        self.assertEqual(told([page("a", "x", ["p"])], [page("b", "x", ["p", "q"])]), [("moved", "b", "a", [], ["q"])])
        self.assertEqual({c[0] for c in told([page("a", "x")], [page("b", "x"), page("c", "x")])}, {"removed", "added"})
        self.assertEqual({c[0] for c in told([page("a", "x"), page("c", "x")], [page("b", "x")])}, {"removed", "added"})

    def test_a_page_that_sends_its_readers_on_has_moved(self):
        old, new = [page("a", "one")], [page("a", "moved", moved_to="b"), page("b", "two")]
        self.assertEqual(told(old, new), [("moved", "b", "a", [], [])])
        self.assertEqual(compare_pages(old, new)[0].why, "its old page leads there")
        self.assertEqual(told(new, new), [], "it had done so before")
        self.assertEqual(told([page("a")], [page("a", moved_to="nowhere")]), [])

    def test_what_was_kept_without_its_words_is_not_said_to_differ(self):
        self.assertEqual(told([PageEntry("a", "a", "A", 0, 0)], [page("a")]), [])

    @given(PATHS, PATHS)
    def test_every_page_is_told_of_once(self, old, new):
        changes = compare_pages(map(page, old), map(page, new))
        self.assertEqual(sorted(c.path for c in changes), sorted(set(old) ^ set(new)))


if __name__ == "__main__":
    unittest.main()
