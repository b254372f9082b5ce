"""Archives of sources, honest ones and others."""

import contextlib
import io
import tarfile
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import SourceRefused
from zarbek.core.material import archives
from zarbek.core.material.archives import is_archive, unpacked

SPECIAL = (tarfile.SYMTYPE, tarfile.LNKTYPE, tarfile.CHRTYPE, tarfile.FIFOTYPE)
FILES = {"index.html": b"<p>All", "parts/deck.html": b"<p>Deck"}


def zipped(path, files):
    with zipfile.ZipFile(path, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in files:
            archive.writestr(name, data)
    return path


def tarred(path, members, mode="w:gz"):
    with tarfile.open(path, mode) as archive:
        for name, data in members:
            info = tarfile.TarInfo(name)
            if data not in SPECIAL:
                info.size = len(data)
                archive.addfile(info, io.BytesIO(data))
            else:
                info.type, info.linkname = data, "/etc/hosts"
                archive.addfile(info)
    return path


class Archives(unittest.TestCase):
    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def held(self, archive):
        with unpacked(archive) as root:
            found = {str(p.relative_to(root)): p.read_bytes() for p in root.rglob("*") if p.is_file()}
        self.assertFalse(root.exists())
        return root.name, found

    def refused(self, archive):
        with self.assertRaises(SourceRefused) as caught, unpacked(archive):
            pass
        return str(caught.exception)

    def test_all_forms_hold_the_same(self):
        made = [zipped(self.folder / "pontoon.zip", FILES.items()), tarred(self.folder / "pontoon.tar.gz", FILES.items()),
                tarred(self.folder / "pontoon.tar", FILES.items(), "w"), tarred(self.folder / "pontoon.tgz", FILES.items(), "w:xz")]  # fmt: skip
        for archive in made:
            with self.subTest(archive.name):
                self.assertTrue(is_archive(archive))
                self.assertEqual(self.held(archive), ("pontoon", FILES))

    def test_what_is_in_one_folder_begins_there(self):
        inside = [(f"pontoon-1.0/{name}", data) for name, data in FILES.items()]
        self.assertEqual(self.held(zipped(self.folder / "x.zip", inside)), ("pontoon-1.0", FILES))

    def test_links_and_devices_are_left_out(self):
        members = [
            *FILES.items(),
            ("l", tarfile.SYMTYPE),
            ("h", tarfile.LNKTYPE),
            ("d", tarfile.CHRTYPE),
            ("f", tarfile.FIFOTYPE),
        ]
        self.assertEqual(self.held(tarred(self.folder / "x.tar", members, "w"))[1], FILES)
        info = zipfile.ZipInfo("link.html")
        info.external_attr = 0o120777 << 16
        self.assertEqual(self.held(zipped(self.folder / "x.zip", [*FILES.items(), (info, b"/etc/hosts")]))[1], FILES)

    def test_names_that_lead_out_of_it(self):
        for number, name in enumerate(("../x", "/etc/x", "a/../../x", "..\\x", "\\\\x")):
            with self.subTest(name):
                told = self.refused(tarred(self.folder / f"{number}.tar", [(name, b"x")], "w"))
                self.assertIn("outside of it", told)
                self.assertIn("outside of it", self.refused(zipped(self.folder / f"{number}.zip", [(name, b"x")])))

    def test_what_is_too_much_twice_or_broken(self):
        archive = zipped(self.folder / "x.zip", [("a.html", b"x" * 1000), ("b.html", b"y" * 1000)])
        for name, most in (("MAX_FILE_BYTES", 999), ("MAX_BYTES", 1500), ("MAX_FILES", 1)):
            with self.subTest(name), mock.patch.object(archives, name, most):
                self.refused(archive)
        self.assertIn("two files", self.refused(tarred(self.folder / "y.tar", [("a", b"one"), ("./a", b"two")], "w")))
        data = archive.read_bytes()
        (self.folder / "z.zip").write_bytes(data[:40] + bytes(255 - byte for byte in data[40:60]) + data[60:])
        self.assertIn("cannot be unpacked", self.refused(self.folder / "z.zip"))
        (self.folder / "t.tgz").write_bytes(tarred(self.folder / "w.tgz", FILES.items()).read_bytes()[:60])
        self.refused(self.folder / "t.tgz")

    def test_what_is_no_archive_of_sources(self):
        bundle = zipped(self.folder / "b.bundle", [("manifest.json", b"{}"), ("symbols.jsonl", b"")])
        (self.folder / "x.html").write_text("<p>")
        self.assertEqual(self.refused(bundle), "b.bundle is a bundle already: publish it as it is.")
        self.assertEqual(self.refused(self.folder / "x.html"), "x.html is no ZIP or tar archive.")

    def test_a_file_where_a_folder_is(self):
        self.assertIn(
            "cannot be unpacked", self.refused(tarred(self.folder / "x.tar", [("a", b"one"), ("a/b", b"two")], "w"))
        )

    @given(st.binary(max_size=200))
    def test_any_bytes_are_an_archive_or_refused(self, data):
        path = self.folder / "any.zip"
        path.write_bytes(b"PK\x03\x04" + data)
        if not is_archive(path):
            self.refused(path)
            return
        with contextlib.suppress(SourceRefused), unpacked(path) as folder:
            self.assertTrue(folder.is_dir())


if __name__ == "__main__":
    unittest.main()
