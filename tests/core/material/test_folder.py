"""Files of a source folder, whatever texts call them."""

import tempfile
import unittest
from pathlib import Path

from tests.support.sources import write_files
from zarbek.core.material.folder import list_files, open_folder


class Names(unittest.TestCase):
    def setUp(self):
        room = tempfile.TemporaryDirectory()
        self.addCleanup(room.cleanup)
        root = write_files(Path(room.name, "source"), {"a/b.txt": "b"})
        Path(room.name, "outside.txt").write_text("x")
        Path(root, "link.txt").symlink_to(Path(room.name, "outside.txt"))
        Path(root, "circle").symlink_to("circle")
        Path(root, "up").symlink_to(room.name)
        self.folder = open_folder(root)

    def test_what_is_there(self):
        for name, known in {"a/b.txt": (True, True, True), "a": (False, True, False), "link.txt": (True, True, False),
                            "up/outside.txt": (True, False, False), "../outside.txt": (True, False, False)}.items():  # fmt: skip
            with self.subTest(name):
                self.assertEqual((self.folder.exists(name), self.folder.has(name), self.folder.holds(name)), known)

    def test_names_that_none_can_have_are_not_there(self):
        self.assertTrue(self.folder.has("circle"), "as a link that is there")
        for name in ("a" * 5000, "a/" * 3000, "a\0b", "circle/x", "a/b.txt/c", "\ud800"):
            with self.subTest(name[:10]):
                found = (
                    self.folder.exists(name),
                    self.folder.has(name),
                    self.folder.holds(name),
                    self.folder.read_within(name, 9),
                )
                self.assertEqual(found, (False, False, False, None))

    def test_links_are_listed_where_they_lead_to_what_is_listed_itself(self):
        Path(self.folder.root, "again.txt").symlink_to("a/b.txt")
        Path(self.folder.root, ".secret").write_text("x")
        Path(self.folder.root, "hidden.txt").symlink_to(".secret")
        self.assertEqual(list_files(self.folder), ["a/b.txt"])
        self.assertEqual(list_files(self.folder, has_links=True), ["a/b.txt", "again.txt"])


if __name__ == "__main__":
    unittest.main()
