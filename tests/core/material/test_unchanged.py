import os
import tempfile
import unittest
import unittest.mock
from pathlib import Path

from zarbek.core.material.folder import Folder
from zarbek.core.material.unchanged import Unchanged


class OfFiles(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder, self.known, self.asked = Folder(Path(folder.name)), Unchanged(), 0
        self.file = self.folder.root / "a"
        self.file.write_text("one")

    def of(self, file="a", **more):
        def answer():
            self.asked += 1
            return self.folder.read_text(file)

        return self.known.of(self.folder, file, answer, **more)

    def test_what_was_just_written_is_asked_for_again(self):
        self.assertEqual((self.of(), self.of(), self.asked), ("one", "one", 2))

    def test_what_is_older_is_not_until_it_is_written(self):
        with unittest.mock.patch("time.time_ns", lambda: os.stat(self.file).st_ctime_ns + 3 * 10**9):
            self.assertEqual((self.of(), self.of(), self.asked), ("one", "one", 1))
            self.assertEqual((self.of(besides="other"), self.asked), ("one", 2))
            before = os.stat(self.file)
            while os.stat(self.file).st_ctime_ns == before.st_ctime_ns:
                self.file.write_text("two")
            os.utime(self.file, ns=(before.st_atime_ns, before.st_mtime_ns))  # As tools do that put files back.
            self.assertEqual((self.of(besides="other"), self.asked), ("two", 3))

    def test_of_what_is_no_file_nothing_is_kept(self):
        self.assertEqual((self.of("none"), self.of("x\0y"), self.of("none")), ("", "", ""))
        self.assertEqual(self.asked, 3)


if __name__ == "__main__":
    unittest.main()
