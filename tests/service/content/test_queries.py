"""Reading what a release has, by as few questions as it takes."""

import unittest

from tests.support.inprocess import connected

FILES = {
    "{s}/__init__.py": '"""All of it."""\nfrom {s}.boats import Boat\n',
    "{s}/boats.py": '"""Boats."""\n\n\nclass Boat:\n    """A boat."""\n\n    def sail(self, port: str) -> None:\n        """Sail to a port."""\n',
    "{s}/rafts.py": '"""Rafts."""\n\n\nclass Raft:\n    """A raft."""\n\n\ndef lash() -> Raft:\n    """Lash one, see :func:`{s}.boats.Boat.sail`."""\n',
    "guides/index.md": "# Start\n\n![A boat](boat.png)\n",
    "guides/boat.png": "no picture",
}


class Queries(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        portal, cls.slug = connected(), "contentqueries"
        files = {name.format(s=cls.slug): text.replace("{s}", cls.slug) for name, text in FILES.items()}
        portal.publish(files, cls.slug, "1.0")
        from django.db import connection
        from django.test.utils import CaptureQueriesContext

        from zarbek.service.catalog.queries import get_release
        from zarbek.service.content import queries

        cls.queries, cls.release = queries, get_release(cls.slug, "1.0")
        cls.asked = lambda _: CaptureQueriesContext(connection)

    def test_a_symbol_by_its_path_and_by_its_other_names(self):
        exact = self.queries.find_exact(self.release.pk, f"{self.slug}.Boat")
        self.assertEqual((exact.symbol.name, exact.symbol.kind), ("Boat", "class"))
        for name in (f"{self.slug}.boats.Boat", f"{self.slug}.Boat"):
            self.assertEqual(self.queries.find_entry(self.release.pk, name).symbol.path, exact.symbol.path)
        sail = self.queries.find_entry(self.release.pk, f"{self.slug}.boats.Boat.sail")
        self.assertEqual(sail.symbol.path, f"{self.slug}.Boat.sail")
        for name in (f"{self.slug}.Gone", f"{self.slug}.Boat.gone", "", "other"):
            self.assertIsNone(self.queries.find_entry(self.release.pk, name), name)

    def test_a_symbol_in_full_stands_where_its_release_has_it(self):
        symbol = self.queries.read_symbol(self.queries.find_entry(self.release.pk, f"{self.slug}.Boat.sail"))
        self.assertEqual(
            (symbol.file, symbol.line, symbol.doc.summary), (f"{self.slug}/boats.py", 7, "Sail to a port.")
        )

    def test_everything_is_read_by_few_questions(self):
        self.queries.get_contents(self.release.pk)
        with self.asked() as asked:
            units = [
                (unit, [s.path for _, s in symbols]) for unit, symbols in self.queries.iter_symbols(self.release.pk)
            ]
        self.assertLessEqual(len(asked), 2)
        self.assertEqual(sorted(path for _, paths in units for path in paths), sorted(
            f"{self.slug}{p}" for p in ("", ".boats", ".rafts", ".Boat", ".Boat.sail", ".rafts.Raft", ".rafts.lash")))  # fmt: skip

    def test_a_block_is_read_once(self):
        self.queries.find_exact(self.release.pk, f"{self.slug}.rafts.Raft")
        with self.asked() as asked:
            self.queries.find_exact(self.release.pk, f"{self.slug}.rafts.lash")
        self.assertEqual(len(asked), 0)

    def test_guides_by_path(self):
        self.assertEqual([ref.entry.path for ref in self.queries.list_page_refs(self.release.pk)], ["index"])
        self.assertEqual(self.queries.read_text(self.release.pk, "page", "index").title, "Start")
        self.assertIsNone(self.queries.read_text(self.release.pk, "page", "gone"))

    def test_which_contents_a_release_has_at_a_path(self):
        pk = self.release.pk
        entry = self.queries.find_exact(pk, f"{self.slug}.rafts.lash")
        (ref,) = self.queries.list_page_refs(pk)
        here = {(pk, "symbol", entry.symbol.path, entry.content), (pk, "page", "index", ref.content)}
        elsewhere = {
            (pk, "symbol", f"{self.slug}.rafts.Raft", entry.content),
            (pk, "symbol", "gone.x", 1),
            (pk, "page", "gone", ref.content),
        }
        self.assertEqual(self.queries.held(here | elsewhere), here)

    def test_what_linking_needs_of_a_release(self):
        index = self.queries.load_index(self.release.pk)
        self.assertEqual((index.project, index.version), (self.slug, "1.0"))
        self.assertEqual(index.symbols[f"{self.slug}.rafts.lash"].kind, "function")
        self.assertEqual([page.path for page in index.pages.values()], ["index"])


if __name__ == "__main__":
    unittest.main()
