"""Bundles round trip, are deterministic, and hostile ones are refused."""

import io
import json
import struct
import tempfile
import tracemalloc
import unittest
import zipfile
from pathlib import Path

from jsonschema import Draft202012Validator

from tests.support.sources import write_files
from zarbek.core.errors import BundleRefused
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material import bundle_file
from zarbek.core.material.bundle_file import BundleReader, digest_file
from zarbek.core.model.bundle_schema import bundle_schema

MANIFEST = json.dumps({"format": 1, "project": "p"})


def zip_of(members, method=zipfile.ZIP_DEFLATED):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", method) as archive:
        for name, data in members:
            archive.writestr(name, data)
    out.seek(0)
    return out


def read_all(source):
    with BundleReader(source) as bundle:
        return [*bundle.symbols(), *bundle.pages(), *bundle.scopes()]


class Deterministic(unittest.TestCase):
    def test_same_source_gives_the_same_bytes(self):
        files = {"p/__init__.py": "from .a import f", "p/a.py": "def f(): ...", "docs/index.md": "# Hi"}
        with tempfile.TemporaryDirectory() as name:
            digests = set()
            for copy in ("one", "two"):
                folder = write_files(Path(name, copy, "p"), files)
                out = Path(name, f"{copy}.bundle")
                gather(folder, out, GatherOptions(slug="p", version="1", use_cache=False))
                digests.add(digest_file(out))
        self.assertEqual(len(digests), 1)


class Schema(unittest.TestCase):
    def test_the_published_schema_is_the_models_own_and_real_bundles_fit_it(self):
        published = json.loads(Path(__file__).parents[3].joinpath("docs/bundle.schema.json").read_text())
        self.assertEqual(published, bundle_schema())
        with tempfile.TemporaryDirectory() as name:
            folder = write_files(
                Path(name, "p"), {"p/__init__.py": 'def f(x: int):\n    """Do :func:`f`."""', "docs/a.md": "# A"}
            )
            out = Path(name, "b")
            gather(folder, out, GatherOptions(slug="p", version="1", use_cache=False))
            with zipfile.ZipFile(out) as archive:
                for member, schema in published["properties"].items():
                    validator = Draft202012Validator({**schema, "$defs": published["$defs"]})
                    text = archive.read(member).decode()
                    for line in [text] if member == "manifest.json" else text.splitlines():
                        validator.validate(json.loads(line))


class Hostile(unittest.TestCase):
    def test_bad_archives_are_refused(self):
        link = zipfile.ZipInfo("assets/link")
        link.external_attr = 0o120777 << 16
        deep = '{"path":' + "[" * 100_000
        cases = {
            "no zip": io.BytesIO(b"nothing"),
            "no manifest": zip_of([("symbols.jsonl", "")]),
            "bad manifest": zip_of([("manifest.json", "{")]),
            "other format": zip_of([("manifest.json", '{"format": 9, "project": "p"}')]),
            "parent path": zip_of([("manifest.json", MANIFEST), ("assets/../../etc/x", "")]),
            "absolute path": zip_of([("manifest.json", MANIFEST), ("/etc/x", "")]),
            "unknown member": zip_of([("manifest.json", MANIFEST), ("run.sh", "")]),
            "link": zip_of([("manifest.json", MANIFEST), (link, "target")]),
            "bomb": zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", b"\0" * 30_000_000)]),
            "packed by LZMA": zip_of([("manifest.json", MANIFEST)], zipfile.ZIP_LZMA),
            "packed by bzip2": zip_of([("manifest.json", MANIFEST)], zipfile.ZIP_BZIP2),
            "no json": zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", "{]\n")]),
            "no utf-8": zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", b'{"path": "\xff"}\n')]),
            "deep": zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", deep)]),
            "missing field": zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", '{"path": "a"}\n')]),
            "wrong digest": zip_of(
                [
                    ("manifest.json", json.dumps({"format": 1, "project": "p", "digests": {"pages.jsonl": "00"}})),
                    ("pages.jsonl", ""),
                ]
            ),
        }
        for name, source in cases.items():
            with self.subTest(name), self.assertRaises(BundleRefused) as caught:
                read_all(source)
            self.assertRegex(str(caught.exception), r"^The bundle was refused")

    def test_a_packing_that_unpacks_in_one_go_takes_no_memory(self):
        bomb = zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", b" " * 2**29)], zipfile.ZIP_LZMA)
        tracemalloc.start()
        with self.assertRaisesRegex(BundleRefused, "other than stored and deflate"):
            read_all(bomb)
        self.assertLess(tracemalloc.get_traced_memory()[1], 2**22)
        tracemalloc.stop()

    def test_nothing_is_read_beyond_what_a_member_declares(self):
        packed = zip_of([("manifest.json", MANIFEST), ("symbols.jsonl", b" " * 5000)]).getvalue()
        lying = io.BytesIO(packed.replace(struct.pack("<I", 5000), struct.pack("<I", 10)))
        with self.assertRaises(BundleRefused):
            read_all(lying)

    def test_a_member_that_ends_before_it_says_is_refused(self):
        for members in (
            [("manifest.json", MANIFEST)],
            [("manifest.json", MANIFEST), ("assets/a.png", b"x" * len(MANIFEST))],
        ):
            whole = zip_of(members, zipfile.ZIP_STORED).getvalue()
            size = struct.pack("<II", len(MANIFEST), len(MANIFEST))
            at = whole.rindex(size, 0, whole.rindex(b"PK\x05\x06"))
            lying = io.BytesIO(whole[:at] + struct.pack("<II", 9000, 9000) + whole[at + 8 :])
            with self.subTest(len(members)), self.assertRaisesRegex(BundleRefused, "ends too early"):
                BundleReader(lying).asset("a.png")

    def test_the_list_of_members_is_bounded_before_it_is_read(self):
        huge = zip_of([("manifest.json", MANIFEST)]).getvalue()
        end = huge.rindex(b"PK\x05\x06")
        for count, length in ((60_000, 100), (1, 2**31)):
            lying = huge[: end + 10] + struct.pack("<HI", count, length) + huge[end + 16 :]
            with self.assertRaisesRegex(BundleRefused, "members"):
                read_all(io.BytesIO(lying))

    def test_an_asset_is_what_the_manifest_says(self):
        said = json.dumps({"format": 1, "project": "p", "digests": {"assets/a.png": "00"}})
        bundle = BundleReader(zip_of([("manifest.json", said), ("assets/a.png", b"x")]))
        with bundle, self.assertRaisesRegex(BundleRefused, "differs"):
            bundle.asset("a.png")

    def test_too_many_members_and_long_lines(self):
        many = zip_of([("manifest.json", MANIFEST), *((f"assets/{i}", "") for i in range(bundle_file.MAX_MEMBERS))])
        line = zip_of([("manifest.json", MANIFEST), ("pages.jsonl", '"' + "ab" * bundle_file.MAX_LINE_BYTES + '"')])
        for source in (many, line):
            with self.assertRaises(BundleRefused):
                read_all(source)


if __name__ == "__main__":
    unittest.main()
