"""Saving what people wrote: a portal names the files, and must not say where they go."""

import io
import tempfile
import unittest
from argparse import Namespace
from contextlib import nullcontext
from datetime import datetime
from pathlib import Path
from types import SimpleNamespace
from unittest import mock

from zarbek.cli.commands import supplements
from zarbek.client.values.supplements import Revision
from zarbek.core.errors import ZarbekError


def revision(name):
    return Revision(id=1, name=name, text="x\n", author="a", reason="b", written_at=datetime(2026, 12, 1))


class Saved(unittest.TestCase):
    def save(self, folder, *names):
        portal = SimpleNamespace(supplements=lambda slug: iter(map(revision, names)))
        options = Namespace(project="p", patch=False, write=None, remove=None, out=Path(folder, "out"), json=False)
        with mock.patch.object(supplements, "open_portal", lambda options: nullcontext(portal)):
            supplements.run(options, io.StringIO())

    def test_below_the_folder_or_not_at_all(self):
        with tempfile.TemporaryDirectory() as folder:
            self.save(folder, "booking.md")
            self.assertEqual(Path(folder, "out", "booking.md").read_text(), "x\n")
            for name in ("../x.md", "/tmp/x.md", ".x.md", "a/b.md", "x", "..", "X.md", "a.md\n"):
                with self.subTest(name), self.assertRaisesRegex(ZarbekError, "no name of a file"):
                    self.save(folder, "other.md", name)
            self.assertEqual([p.name for p in Path(folder).rglob("*.md")], ["booking.md"])


if __name__ == "__main__":
    unittest.main()
