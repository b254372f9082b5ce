"""Hostile and broken files: each a finding, the rest is read."""

import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

from tests.support.sources import gather_files, write_files
from zarbek.core.gathering import file_reading as files
from zarbek.core.gathering.file_reading import MAX_FILE_BYTES
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.sources.languages import syntax_tree as tree

GOOD = {
    "Good.java": "package a;\n/** Fine. */\npublic class Good {}\n",
    "good.go": "// Package main is fine.\npackage main\n",
    "good.rs": "//! Fine.\npub fn fine() {}\n",
    "good.hpp": "/// Fine.\nclass Fine {};\n",
    "good.ts": "/** Fine. */\nexport const fine = 1;\n",
    "Good.cs": "/// <summary>Fine.</summary>\npublic class Fine {}\n",
    "Good.kt": "package k\n/** Fine. */\nfun fine() {}\n",
}


def gather_bytes(given):
    with tempfile.TemporaryDirectory() as name:
        folder = write_files(Path(name, "source"), GOOD)
        for file, data in given.items():
            folder.joinpath(file).write_bytes(data)
        return gather(folder, Path(name, "b.bundle"), GatherOptions(use_cache=False))


class Nameless(unittest.TestCase):
    def test_what_has_no_name_is_left_out_with_all_that_is_in_it(self):
        for file, text in {
            "A.cs": "public class { public const int Most = 3; }\npublic class B { public int ; public void F() {} }\n",
            "A.java": "package a;\npublic class { public int most; }\nclass B { public int = 3; }\n",
            "a.ts": "export class { most: number; }\nexport interface { x: string }\n",
            "a.hpp": "class { public: int most; };\nnamespace { int f(); }\nstruct B { int ; };\n",
            "a.rs": "pub struct { pub most: u32 }\npub fn () {}\n", "a.go": "package a\n\ntype struct { Most int }\n\nfunc () {}\n",
            "A.kt": "package a\nclass { val most = 3 }\nfun () {}\n",
        }.items():  # fmt: skip
            _, _, symbols = gather_files({file: text}, slug="p")
            for symbol in symbols:
                with self.subTest(file, path=symbol.path):
                    self.assertNotEqual(symbol.name, "")
                    self.assertNotRegex(symbol.path, r"^[.:]|[.:]$|\.\.|::::")


class BadFiles(unittest.TestCase):
    def test_each_is_a_finding_and_the_rest_is_gathered(self):
        whole = gather_bytes({}).manifest.counts["symbols"]
        deep = b"class A { int x = " + b"(" * 10_000 + b"1" + b")" * 10_000 + b"; }"
        found = gather_bytes(
            {
                "Binary.java": b"class A {\0}",
                "Long.java": b'class B { String s = "' + b"x" * 100_001 + b'"; }',
                "Broken.java": b"package a; public class C { void f( }",
                "Deep.java": deep,
                "Huge.java": b"/" * (MAX_FILE_BYTES + 1),
            }
        )
        rules = {f.file: f.message for f in found.findings if f.rule == "text/unreadable"}
        self.assertLessEqual({"Binary.java", "Long.java", "Broken.java", "Huge.java"}, rules.keys())
        self.assertIn("100,000 characters", rules["Long.java"])
        self.assertIn("8 MiB", rules["Huge.java"])
        self.assertGreaterEqual(found.manifest.counts["symbols"], whole)

    def test_deep_nesting_ends_in_time(self):
        started = time.monotonic()
        nested = {f"N.{end}": opener * 10_000 for end, opener in {
            "java": b"class A {", "rs": b"mod a {", "hpp": b"namespace a {", "ts": b"namespace a {", "cs": b"class A {",
            "kt": b"class A {\n", "go": b"package main\nfunc f() {",
        }.items()}  # fmt: skip
        found = gather_bytes(nested)
        self.assertGreaterEqual(found.manifest.counts["symbols"], 7)
        self.assertLess(time.monotonic() - started, 60)

    def test_a_reader_that_falls_over_one_file_leaves_the_others(self):
        for error in (KeyError("x"), TypeError("y"), AttributeError("z"), IndexError()):
            with self.subTest(error), mock.patch.object(files, "read_source", side_effect=error):
                found = gather_bytes({})
                self.assertEqual({f.rule for f in found.findings}, {"text/unreadable"})
                self.assertEqual(len(found.findings), len(GOOD))

    def test_a_slow_grammar_is_given_up(self):
        big = ("class A { void f() { int x = 1; } }\n" * 20_000).encode()
        with mock.patch.object(tree, "MAX_PARSE_S", 0.0):
            found = gather_bytes({"Slow.java": big})
        self.assertIn("takes longer", next(f.message for f in found.findings if f.file == "Slow.java"))

    def test_a_slow_reader_is_given_up(self):
        def spin(*_):
            while True:
                pass

        with mock.patch.object(files, "MAX_READ_S", 0.2), mock.patch.object(files, "read_source", spin):
            found = gather_bytes({})
        self.assertEqual({f.file for f in found.findings}, GOOD.keys())
        self.assertIn("takes longer than 0.2 s", found.findings[0].message)

    def test_other_encodings_are_read(self):
        text = (
            "package a;\n/** Fähre über das Meer, größer als früher, für Gäste und Güter. */\npublic class Faehre {}\n"
        )
        found = gather_bytes(
            {"Latin.java": text.encode("latin-1"), "Wide.java": text.replace("Faehre", "W").encode("utf-16")}
        )
        self.assertEqual([f for f in found.findings if f.file in ("Latin.java", "Wide.java")], [])
        self.assertEqual(found.manifest.counts["symbols"], gather_bytes({}).manifest.counts["symbols"] + 2)

    def test_hostile_markup_in_comments_is_text(self):
        found, _, symbols = gather_files({
            "A.java": "/** <img src=x onerror=alert(1)> <a href='javascript:alert(1)'>x</a> {@link A <script>} */\nclass A {}\n",
        })  # fmt: skip
        text = next(s.doc for s in symbols if s.name == "A")
        self.assertNotIn("javascript:", f"{text.summary}{text.body}")
        self.assertEqual(found.manifest.languages, ["java"])


class ManyLanguages(unittest.TestCase):
    def test_one_project_may_have_all_of_them(self):
        found = gather_bytes({"good.py": b'"""Fine."""\n'})
        self.assertEqual(
            found.manifest.languages, ["c", "cpp", "csharp", "go", "java", "kotlin", "python", "rust", "typescript"][1:]
        )

    def test_a_second_gather_reads_only_what_changed(self):
        with tempfile.TemporaryDirectory() as name, mock.patch.dict("os.environ", {"ZARBEK_CACHE": name}):
            folder = write_files(Path(name, "source"), GOOD)
            options = GatherOptions()
            gather(folder, Path(name, "a.bundle"), options)
            folder.joinpath("Good.kt").write_text("package k\n/** New. */\nfun new() {}\n")
            reads = mock.patch("zarbek.core.gathering.file_reading.read_one", side_effect=AssertionError)
            with reads as called, self.assertRaises(AssertionError):
                gather(folder, Path(name, "b.bundle"), options)
            self.assertEqual([call.args[0][1].file for call in called.call_args_list], ["Good.kt"])
