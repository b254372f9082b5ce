"""A whole source: bad files, project files, caching."""

import os
import tempfile
import unittest
import zipfile
from pathlib import Path
from unittest import mock

from tests.support.sources import gather_files, write_files
from zarbek.core.errors import ProjectFileError, SourceNotFound
from zarbek.core.gathering import file_reading as reading_files
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundle_file import digest_file


class Listing(unittest.TestCase):
    def test_declarations_of_a_build_count_where_nothing_else_is_there(self):
        told = {"package.json": '{"name": "k", "types": "./dist/k.d.ts"}', "dist/k.d.ts": "export declare const a: number;\n",
                "dist/deep/more.d.ts": "export declare const b: number;\n", "dist/k.js": "exports.a = 1;\n"}  # fmt: skip
        for more, found in (
            ({}, ["k", "k.a", "k/deep/more", "k/deep/more.b"]),
            ({"src/k.ts": "export const c = 1;\n"}, ["k", "k.c"]),
        ):
            _, index, _ = gather_files(told | more)
            self.assertEqual(sorted(index.symbols), found)
        for entry in ("/etc/k.d.ts", "../dist/k.d.ts", "dist/none.d.ts"):
            _, index, _ = gather_files(
                told | {"package.json": f'{{"name": "k", "exports": {{".": {{"types": "{entry}"}}}}}}'}
            )
            self.assertEqual(list(index.symbols), [])


PAGE = "<title>{0} - Pontoon</title><h1 id={0}>{0}</h1><p>See <a href=deck.html#deck>deck</a>, <img src={0}.png>"


class Trees(unittest.TestCase):
    FILES = {f"{name}.html": PAGE.format(name) for name in ("index", "deck", "float")} | {"deck.png": "picture"}

    def test_a_folder_of_pages_is_a_tree(self):
        gathered, index, _ = gather_files({**self.FILES, "search.js": "var words = []; export function find() {}"})
        self.assertEqual([t.folder for t in gathered.manifest.trees], [""])
        self.assertEqual(sorted(index.pages), ["deck.html", "float.html", "index.html"])
        self.assertEqual((index.assets, list(index.symbols)), ({"deck.png"}, []))

    def test_pages_among_sources_are_none_until_the_project_file_says_so(self):
        files = {f"old/{name}": text for name, text in self.FILES.items()}
        files |= {
            "pontoon.py": "def moor():\n    '''Moor.'''\n",
            "docs/guide.md": "# Guide\n",
            "old/mould.py": "x = 1\n",
        }
        gathered, index, _ = gather_files(files)
        self.assertEqual((gathered.manifest.trees, sorted(index.pages)), ([], ["guide"]))
        gathered, index, _ = gather_files({**files, "zarbek.toml": '[trees."old/"]\nlanguage = "c"\n'})
        self.assertEqual([(t.folder, t.language) for t in gathered.manifest.trees], [("old/", "c")])
        self.assertEqual(sorted(index.pages), ["guide", "old/deck.html", "old/float.html", "old/index.html"])
        self.assertEqual(sorted(index.symbols), ["pontoon", "pontoon.moor"])
        orders = {path: entry.order for path, entry in index.pages.items()}
        self.assertEqual(len(set(orders.values())), 4, "guides come first, pages of trees after them")
        self.assertEqual(orders["guide"], 0)

    def test_an_archive_is_taken_as_its_folder(self):
        with tempfile.TemporaryDirectory() as name:
            archive = Path(name, "pontoon-1.0.zip")
            with zipfile.ZipFile(archive, "w") as packed:
                for file, text in self.FILES.items():
                    packed.writestr(file, text)
            gathered = gather(archive, Path(name, "b"), GatherOptions(version="1.0", use_cache=False))
        self.assertEqual((gathered.manifest.project, gathered.manifest.counts["pages"]), ("pontoon-1.0", 3))

    def test_hints_that_are_none(self):
        for text, told in (("[trees.old]\ntitel = 'h1'\n", "trees.old.titel"), ("[trees]\nold = 1\n", "trees"),
                           ("[trees.gone]\n", "trees.gone"), ("[trees.'..']\n", "trees.."),
                           ("[trees.old]\nbody = 'a[['\n", "trees.old.body")):  # fmt: skip
            with self.subTest(text):
                with self.assertRaises(ProjectFileError) as caught:
                    gather_files({"old/index.html": "<p>", "a.py": "x = 1", "zarbek.toml": text})
                self.assertIn(told, str(caught.exception))


class BadFiles(unittest.TestCase):
    def test_one_broken_file_is_a_finding_not_a_failure(self):
        with tempfile.TemporaryDirectory() as name:
            folder = write_files(Path(name), {"p/__init__.py": "", "p/good.py": "x = 1", "p/syntax.py": "def (:\n"})
            (folder / "p/binary.py").write_bytes(b"\0\1\2")
            (folder / "p/latin.py").write_bytes(b"# \xe9\n")
            (folder / "p/long.py").write_text("x = '" + "a" * 200_000 + "'\n")
            (folder / "p/deep.py").write_text("x = " + "(" * 5000 + ")" * 5000 + "\n")
            os.symlink("/etc/hosts", folder / "p/link.py")
            gathered = gather(folder, Path(name, "b"), GatherOptions(use_cache=False))
        self.assertEqual(
            [(f.rule, f.file) for f in gathered.findings],
            [("text/unreadable", f"p/{n}.py") for n in ("binary", "deep", "latin", "long", "syntax")],
        )

    def test_findings_of_text_and_signature(self):
        gathered, _, _ = gather_files(
            {
                "p/__init__.py": '''
            def f(real: int, other=1, **more):
                """Do.

                :param str real: Wrong type.
                :param anything: Goes into more.
                """
            def g(new):
                """Do.

                :param old: Gone.
                """
        '''
            }
        )
        found = [(f.rule, f.line, f.text, f.suggestion) for f in gathered.findings]
        self.assertEqual(found, [("text/type-conflict", 5, "str", "int"), ("stale/parameter", 11, "old", "new")])


class ProjectFile(unittest.TestCase):
    def test_unknown_keys_name_the_nearest(self):
        with self.assertRaises(ProjectFileError) as caught:
            gather_files({"zarbek.toml": 'onwer = "x"'})
        self.assertEqual(
            str(caught.exception), "zarbek.toml: onwer: is not a known key; the nearest known key is owner"
        )

    def test_wrong_types_and_broken_toml(self):
        for text in ("languages = 3", "= nothing", "[guides]\nfolder = 1", 'visibility = "all"'):
            with self.subTest(text), self.assertRaises(ProjectFileError):
                gather_files({"zarbek.toml": text})

    def test_contents_that_miss_pages_and_pages_that_contents_miss(self):
        gathered, index, _ = gather_files({
            "zarbek.toml": '[guides]\nfolder = "g"\ncontents = ["b", "absent", ["a"]]', "g/a.md": "# A", "g/b.md": "# B", "g/c.md": "# C",
        })  # fmt: skip
        self.assertEqual([f.rule for f in gathered.findings], ["text/unreached-page", "dangling/page"])
        self.assertEqual(
            {p.path: (p.order, p.depth) for p in index.pages.values()}, {"b": (0, 0), "a": (1, 1), "c": (-1, 0)}
        )

    def test_no_such_folder(self):
        with self.assertRaises(SourceNotFound):
            gather(Path("/nowhere/at/all"), Path("/tmp/x"), GatherOptions())


class Cache(unittest.TestCase):
    def test_second_gather_reads_only_what_changed_and_equals_a_full_one(self):
        files = {f"p/m{i}.py": f'def f{i}(): """:func:`f{i}`"""' for i in range(6)}
        with tempfile.TemporaryDirectory() as name, mock.patch.dict(os.environ, {"ZARBEK_CACHE": f"{name}/cache"}):
            folder = write_files(Path(name, "s"), {"p/__init__.py": "", **files})
            gather(folder, Path(name, "one"), GatherOptions())
            (folder / "p/m3.py").write_text("def changed(): ...\n")
            with mock.patch.object(reading_files, "read_one", wraps=reading_files.read_one) as reads:
                gather(folder, Path(name, "two"), GatherOptions())
            self.assertEqual([call.args[0][1].file for call in reads.call_args_list], ["p/m3.py"])
            gather(folder, Path(name, "full"), GatherOptions(use_cache=False))
            self.assertEqual(digest_file(Path(name, "two")), digest_file(Path(name, "full")))


class Layouts(unittest.TestCase):
    def test_where_modules_are_found(self):
        _, index, _ = gather_files({
            "a/__init__.py": "", "a/b.py": "", "ns/part/c.py": "", "tests/test_a.py": "", "build/x.py": "", "stub/__init__.pyi": "def f() -> int: ...",
        })  # fmt: skip
        self.assertEqual(list(index.symbols), ["a", "a.b", "ns.part.c", "stub", "stub.f"])

    def test_what_stands_beside_src_is_not_installed(self):
        _, index, _ = gather_files({
            "src/a/__init__.py": "", "mockserver/__init__.py": "def f(): ...", "docs/conf.py": "x = 1", "noxfile.py": "",
            "scripts/build.py": "", "other/pyproject.toml": "", "other/b/__init__.py": "",
        })  # fmt: skip
        self.assertEqual(list(index.symbols), ["a", "b"])


if __name__ == "__main__":
    unittest.main()
