"""Time to read grows with the text, whatever the text; what is deaf to every limit is left out."""

import os
import re
import signal
import tempfile
import time
import unittest
from pathlib import Path
from unittest import mock

from tests.support.hostiletexts import FRAMES, UNITS, hostile_source
from tests.support.running import ROOT
from zarbek.core.errors import UnreadableText
from zarbek.core.gathering import file_reading as files
from zarbek.core.gathering.file_reading import read_files
from zarbek.core.jsonschema.example_generation import example_for
from zarbek.core.jsonschema.validation import SchemaSet
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import language_of, read_source
from zarbek.core.sources.languages.syntax_tree import nests_too_deeply
from zarbek.core.sources.source_text import FALLS

#: Seconds of this process for 24,000 characters: each of these texts once took tens, or minutes.
LIMIT_S = 3.0
SIZE = 24_000


def read_any(data: bytes, file: str) -> None:
    try:
        read_source(data, SourceFile(file, language_of(file), "a"))
    except (UnreadableText, SyntaxError, *FALLS):
        pass


class Readers(unittest.TestCase):
    def test_comments_of_every_language(self):
        for file, (frame, _) in FRAMES.items():
            for unit in UNITS:
                with self.subTest(file, unit=unit):
                    started = time.process_time()
                    read_any(hostile_source(frame, unit, SIZE), file)
                    self.assertLess(time.process_time() - started, LIMIT_S)

    def test_code_that_its_grammar_cannot_read(self):
        for file, unit in (
            ("A.java", "<!--"),
            ("A.java", "a<"),
            ("a.rs", "+-"),
            ("a.go", "<!--"),
            ("a.cs", "a<"),
            ("a.kt", ","),
            ("a.h", "{"),
            ("a.ts", "["),
        ):
            with self.subTest(file, unit=unit):
                started = time.process_time()
                read_any(hostile_source(FRAMES[file][1], unit, SIZE), file)
                self.assertLess(time.process_time() - started, LIMIT_S)

    def test_empty_lines_without_end(self):
        for file, (_, frame) in FRAMES.items():
            with self.subTest(file):
                started = time.process_time()
                read_any(hostile_source(frame, "\n\n", 4 * SIZE), file)
                self.assertLess(time.process_time() - started, LIMIT_S)

    def test_no_pattern_goes_over_all_lines_from_each_of_them(self):
        found = []
        for file in (ROOT / "src" / "zarbek").rglob("*.py"):
            for line in file.read_text().splitlines():
                if "MULTILINE" in line and re.search(r"[\"'(]\^\(?\\s[*+]", line):
                    found.append(f"{file.name}: {line.strip()}")
        self.assertEqual(
            found, [], "white space at the beginning of a line is [ \\t]*, or each line looks at all after it"
        )

    def test_nesting_is_told_from_comparing(self):
        self.assertTrue(nests_too_deeply(b"a<" * 20_001))
        self.assertTrue(nests_too_deeply(b"[" * 600))
        self.assertFalse(nests_too_deeply(b"if (a < b) { c[0] = 1; }\n" * 30_000))
        self.assertFalse(nests_too_deeply(b"x = a < b;\n" * 30_000))


class Deaf(unittest.TestCase):
    def test_a_file_that_ends_its_reader_is_left_out_in_the_midst_of_many(self):
        with tempfile.TemporaryDirectory() as folder:
            sources = [
                SourceFile(f"{name}.py", "python", name) for name in (*(f"m{n}" for n in range(500)), "deadly", "z")
            ]
            for source in sources:
                Path(folder, source.file).write_text(f'"""{source.module}."""\n')
            with mock.patch.object(files, "read_one", _deaf):
                readings, _ = read_files(
                    Path(folder), sources, files.KnownReadings(), progress=lambda _done, _total: None
                )
        self.assertEqual([s.module for s, r in zip(sources, readings, strict=True) if not r.symbols], ["deadly"])

    def test_a_file_that_keeps_its_reader_is_left_out_and_the_others_are_read(self):
        with tempfile.TemporaryDirectory() as folder:
            sources = []
            for name in ("a", "deaf", "b"):
                Path(folder, f"{name}.py").write_text(f'"""{name}."""\n')
                sources.append(SourceFile(f"{name}.py", "python", name))
            with mock.patch.object(files, "read_one", _deaf), mock.patch.object(files, "MAX_READ_S", 0.2):
                readings, _ = read_files(
                    Path(folder), sources, files.KnownReadings(), progress=lambda _done, _total: None, is_guarded=True
                )
        self.assertEqual([bool(r.symbols) for r in readings], [True, False, True])
        self.assertEqual(readings[1].findings[0].rule, "text/unreadable")

    def test_many_files_are_read_beside_one_another_in_their_order(self):
        with tempfile.TemporaryDirectory() as folder:
            sources = [SourceFile(f"m{n}.py", "python", f"m{n}") for n in range(60)]
            for source in sources:
                Path(folder, source.file).write_text(f'"""{source.module}."""\n')
            readings, _ = read_files(Path(folder), sources, files.KnownReadings(), progress=lambda _done, _total: None)
        self.assertEqual([r.paths for r in readings], [[s.module] for s in sources])


_read_one = files.read_one


def _deaf(task):
    """Reads but for one file, over which it sleeps through every signal that a handler could catch."""
    if task[1].file == "deaf.py":
        time.sleep(60)
    if task[1].file == "deadly.py":
        os.kill(os.getpid(), signal.SIGKILL)
    return _read_one(task)


class Patterns(unittest.TestCase):
    def test_patterns_of_schemas_take_no_time(self):
        for pattern in (
            "^(a+)+$",
            "^(?=(a+)+$)b",
            "(a*)*c",
            "^(([a-z])+.)+[A-Z]([a-z])+$",
            r"(x+x+)+y",
            "((a{1,99}){1,99}){1,99}",
            "a{100000}{100000}",
        ):
            with self.subTest(pattern):
                started = time.process_time()
                try:
                    SchemaSet({}).misfits("a" * 5000 + "!", {"type": "string", "pattern": pattern})
                    example_for({"type": "string", "pattern": pattern}, lambda _path: None, "request")
                except ValueError:
                    pass
                self.assertLess(time.process_time() - started, LIMIT_S)


if __name__ == "__main__":
    unittest.main()
