"""What the releases of a project had is told without reading all of them."""

import unittest
import uuid
from unittest import mock

from tests.support.inprocess import connected

RELEASES = 8


class History(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = connected()
        cls.slug = f"hist{uuid.uuid4().hex[:6]}"
        for number in range(RELEASES):
            names = ["kept", *(["gone"] if number < 3 else []), *(["late"] if number > 4 else [])]
            mark = "\n\n    .. deprecated:: 1\n    " if number > 5 else ""
            text = "\n".join(f'def {n}():\n    """Does{mark if n == "kept" else ""}."""\n' for n in names)
            files = {f"{cls.slug}/__init__.py": f"from {cls.slug}.one import Mast\n",
                     f"{cls.slug}/one.py": f"{text}\nclass Mast:\n    def {'hoist' if number < 3 else 'lower'}(self): ...\n"}  # fmt: skip
            cls.portal.publish(files, cls.slug, f"1.{number}")

    def setUp(self):
        from zarbek.core.model.bundle import Manifest
        from zarbek.service.content import queries
        from zarbek.service.links import resolution_context

        queries.load_index.forget()
        self.read = []
        kept = resolution_context.load_index
        patch = mock.patch.object(
            resolution_context, "load_index", side_effect=lambda pk: self.read.append(pk) or kept(pk)
        )
        patch.start()
        self.addCleanup(patch.stop)
        self.asked = resolution_context.DatabaseResolutionContext(Manifest(format=1, project="reader", version="1"))

    def test_a_name_that_is_gone_reads_the_last_release_that_had_it(self):
        self.assertEqual(self.asked.last_with(self.slug, f"{self.slug}.one.gone"), "1.2")
        self.assertEqual(self.asked.gone_since(self.slug, f"{self.slug}.one.gone"), "1.3")
        self.assertEqual(len(self.read), 1)

    def test_a_name_that_never_was_reads_none(self):
        self.assertEqual(self.asked.last_with(self.slug, f"{self.slug}.one.never"), "")
        self.assertEqual(self.read, [])

    def test_through_another_name_of_what_it_is_in(self):
        self.assertEqual(self.asked.last_with(self.slug, f"{self.slug}.Mast.hoist"), "1.2")
        self.assertEqual(len(self.read), 1)

    def test_when_it_was_deprecated_or_moved_reads_none_whole(self):
        self.assertEqual(self.asked.deprecated_in(self.slug, f"{self.slug}.one.kept"), "1.6")
        self.assertEqual(self.asked.moved_in(self.slug, "1.7", f"{self.slug}.one.gone"), "1.3")
        self.assertEqual(self.read, [])

    def test_a_preview_is_younger_than_all_releases_whatever_it_is_called(self):
        from zarbek.core.linking.index import ReleaseIndex
        from zarbek.core.model.bundle import Manifest
        from zarbek.service.links.resolution_context import DatabaseResolutionContext

        for version in ("preview", "1.4", "1.0"):
            manifest = Manifest(format=1, project=self.slug, version=version)
            asked = DatabaseResolutionContext(manifest, ReleaseIndex(self.slug, version, symbols=()), is_preview=True)
            others = [f"1.{n}" for n in range(RELEASES) if f"1.{n}" != version]
            self.assertEqual(asked.history(self.slug), [*others, version])
            self.assertEqual(asked.gone_since(self.slug, f"{self.slug}.one.kept"), version)
            self.assertEqual(asked.deprecated_in(self.slug, f"{self.slug}.one.kept"), "1.6")
            self.assertTrue(asked.is_before(self.slug, "1.7", version))
            self.assertFalse(asked.is_before(self.slug, version, version))

    def test_a_release_that_was_stored_without_its_names_is_read(self):
        from zarbek.service.links import resolution_context

        with mock.patch.object(resolution_context, "get_names", return_value=None):
            self.assertEqual(self.asked.last_with(self.slug, f"{self.slug}.one.never"), "")
        self.assertEqual(len(self.read), RELEASES)


if __name__ == "__main__":
    unittest.main()
