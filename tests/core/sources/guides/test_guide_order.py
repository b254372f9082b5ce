"""The order of guides."""

import unittest

from zarbek.core.model.page import Page
from zarbek.core.sources.guides.guide_order import order_pages


def page(path):
    return Page(path=path, file=f"docs/{path}.md", title=path.title(), text="")


class Order(unittest.TestCase):
    def test_without_a_table_of_contents_the_folder_counts(self):
        pages, findings = order_pages([page(p) for p in ("z", "sea/tides", "index", "a", "sea/index")], None)
        self.assertEqual(
            [(p.path, p.depth) for p in pages], [("index", 0), ("a", 0), ("z", 0), ("sea/index", 1), ("sea/tides", 1)]
        )
        self.assertEqual(([p.order for p in pages], findings), ([0, 1, 2, 3, 4], []))

    def test_a_table_of_contents_orders_and_nests(self):
        pages, findings = order_pages([page(p) for p in "abc"], ["c", ["a"], "b"])
        self.assertEqual([(p.path, p.depth) for p in pages], [("c", 0), ("a", 1), ("b", 0)])
        self.assertEqual(findings, [])

    def test_what_is_missing_on_either_side_is_told(self):
        pages, findings = order_pages([page("a"), page("left")], ["gone", "a", "a"])
        self.assertEqual([p.path for p in pages], ["a", "left"])
        self.assertEqual([(f.rule, f.subject) for f in findings],
                         [("dangling/page", "gone"), ("dangling/page", "a"), ("text/unreached-page", "left")])  # fmt: skip


if __name__ == "__main__":
    unittest.main()
