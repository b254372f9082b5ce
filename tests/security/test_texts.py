"""One odd text breaks no report, address, manifest or gathering of others."""

import json
import tempfile
import unittest
from datetime import date
from pathlib import Path
from xml.etree import ElementTree

from tests.support.sources import gather_files, write_files
from zarbek.core.errors import ProjectFileError
from zarbek.core.findings.formats import FORMATS, write_report
from zarbek.core.findings.report import Counted, Report, Waived
from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.model.finding import Finding
from zarbek.core.model.interface import NamedValue, Operation
from zarbek.core.model.limits import MAX_PATH
from zarbek.core.requests.http_request import CallRefused, build_call
from zarbek.core.writing.html import render

ODD = "\x00\x08\x1b[31m\ufffe <script> ]]> & \" ' {} [x](y) | \r\n \u202e \ud7ff 🛶"

LETTERS, DOTTED = "a" * (MAX_PATH + 100), ".".join(["abc"] * (MAX_PATH // 3))
#: Names without end in each language and format.
LONG = {
    "A.java": f"package {DOTTED};\n/** A. */ public class A {{}}\n", "A.kt": f"package {DOTTED}\n/** A. */ class A\n",
    "A.cs": f"namespace {DOTTED};\n/// <summary>A.</summary>\npublic class A {{}}\n",
    "a.go": f"package {LETTERS}\n// A is.\ntype A int\n", "a.h": f"/** A.\n @param no x */ void {LETTERS}(int y);\n",
    "a.cpp": f"namespace {LETTERS} {{ /** A. */ class A {{ /** @param no x */ void f(int y); }}; }}\n",
    "a.rs": f"pub mod {LETTERS} {{ /// A.\n pub fn f() {{}} }}\n", "a.js": f"/** A. @param no x */ export function {LETTERS}(y) {{}}\n",
    "a.ts": f"/** A. */ export namespace {LETTERS} {{ /** F. @param no y */ export function f(x: number): void; }}\n",
    "m.py": f'class {LETTERS}:\n    """A."""\n\n    def f(self, y):\n        """F.\n\n        :param no: x\n        """\n\n    def f(self, y):\n        """F"""\n',
    "api.yaml": f'openapi: 3.1.0\ninfo: {{title: {LETTERS}, version: "1"}}\npaths:\n  /{LETTERS}:\n    get:\n      operationId: {LETTERS}\n      responses: {{"200": {{description: ok}}}}\ncomponents: {{schemas: {{{LETTERS}: {{type: object, example: 3}}}}}}\n',
    "s.proto": f'syntax = "proto3"; package {DOTTED};\n// A\nmessage A {{ int32 x = 1; }}\n', "s.graphql": f'"A" type {LETTERS} {{ x: {LETTERS}b }}\n',
    "s.xsd": f'<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="{LETTERS}"><xs:element name="{LETTERS}"/></xs:schema>',
    "a.wsdl": f'<definitions xmlns="http://schemas.xmlsoap.org/wsdl/" name="{LETTERS}" targetNamespace="{LETTERS}"><portType name="{LETTERS}"><operation name="{LETTERS}"/></portType></definitions>',
    "ev.yaml": f'asyncapi: 3.0.0\ninfo: {{title: {LETTERS}, version: "1"}}\nchannels: {{{LETTERS}: {{address: {LETTERS}, messages: {{{LETTERS}: {{payload: {{type: object}}}}}}}}}}\noperations: {{{LETTERS}: {{action: send, channel: {{$ref: "#/channels/{LETTERS}"}}}}}}\n',
}  # fmt: skip


class Formats(unittest.TestCase):
    def test_a_rule_that_nobody_knows_and_any_text_go_into_every_format(self):
        odd = Finding(f"other/{ODD}", "error", ODD, ODD, subject_kind="nothing", file=ODD, line=3, text=ODD, before=ODD, after=ODD,
                      target=ODD, suggestion=ODD, why=ODD, fingerprint="0" * 16, owner=ODD)  # fmt: skip
        report = Report(project=ODD, version=ODD, counts=Counted(3, 1, 1), new=[odd], open=[odd], fixed=[odd], title=ODD, held_for=ODD,
                        waived=[Waived(odd, ODD, ODD, date(2099, 1, 1), ended=True)])  # fmt: skip
        for form in FORMATS:
            with self.subTest(form):
                text = write_report(report, form)
                self.assertNotIn("<script>", text if form == "junit" else "")
                if form == "junit":
                    self.assertEqual(ElementTree.fromstring(text).tag, "testsuites")


class Sources(unittest.TestCase):
    def test_a_manifest_that_nests_without_end_is_a_finding(self):
        for name, text in {
            "package.json": "[" * 100_000, "Cargo.toml": "a = " + "[" * 100_000, "pyproject.toml": "a = " + "[" * 100_000,
            "vcpkg.json": '{"a":' * 60_000, "package-lock.json": "[" * 100_000, "bom.json": "[" * 100_000, "tsconfig.json": "[" * 100_000,
            "pom.xml": "<a>" * 60_000, "build.gradle": "{" * 100_000, "go.mod": "(" * 100_000,
        }.items():  # fmt: skip
            with self.subTest(name):
                gathered, _, symbols = gather_files({"m.py": '"""M."""\n', name: text}, slug="m")
                self.assertEqual([s.path for s in symbols], ["m"])
                self.assertLessEqual({f.rule.partition("/")[0] for f in gathered.findings}, {"text"})

    def test_broken_addresses_in_a_description_end_nothing(self):
        text = 'openapi: 3.1.0\ninfo: {title: T, version: "1"}\nservers: [{url: "http://[::1"}]\npaths:\n  /a:\n    get:\n      responses: {"200": {description: ok, content: {application/json: {schema: {$ref: "http://[::1/x#/a"}}}}}\n'
        _, _, symbols = gather_files({"api.yaml": text, "zarbek.toml": 'remote = ["http://[::1/"]\n'}, slug="m")
        self.assertIn("operation", {s.kind for s in symbols})

    def test_what_has_a_name_without_end_is_left_out_and_said_to_be(self):
        for file, text in LONG.items():
            with self.subTest(file):
                gathered = self.read_again({file: text, "ok.py": '"""Fine."""\n'})
                self.assertRegex(" ".join(f.message for f in gathered.findings), "longer than 700|too long")

    def test_the_rest_of_its_file_is_kept(self):
        name = "a" * (MAX_PATH + 1)
        gathered, _, symbols = gather_files({"m.py": f"def {name}(): ...\ndef f(): ...\n"}, slug="m")
        self.assertEqual([s.path for s in symbols], ["m", "m.f"])
        self.assertIn("longer than 700", " ".join(f.message for f in gathered.findings))

    def test_what_a_schema_calls_its_parts_and_itself_may_be_as_long_as_it_likes(self):
        said = {"$id": f"https://h.example/{LETTERS}", "properties": {LETTERS: {"type": "string"}}}
        text = json.dumps({"$schema": "https://json-schema.org/draft/2020-12/schema", **said})
        self.assertEqual(self.read_again({"s.schema.json": text}).manifest.counts["symbols"], 2)

    def test_what_a_manifest_says_without_end_is_said_to_be_unreadable(self):
        manifest = f'[project]\nname = "{LETTERS}"\nversion = "{LETTERS}"\ndescription = "{LETTERS * 4}"\ndependencies = ["{LETTERS}>=1"]\n'
        gathered = self.read_again({"m.py": '"""M."""\n', "pyproject.toml": manifest})
        self.assertEqual(
            (gathered.manifest.version, gathered.manifest.summary, gathered.manifest.dependencies), ("", "", [])
        )
        self.assertEqual({f.file for f in gathered.findings}, {"pyproject.toml"})

    def test_what_a_project_file_says_without_end_is_refused_with_its_key(self):
        for key in ("title", "version", "owner"):
            with self.subTest(key), self.assertRaisesRegex(ProjectFileError, f"{key}: may have [0-9]+ characters"):
                gather_files({"m.py": "", "zarbek.toml": f'{key} = "{LETTERS * 4}"\n'}, slug="m")

    def test_a_text_without_end_is_left_out_and_said_to_be(self):
        text = '"""M.\n\n' + ("words " * 100 + "\n") * 8_000 + '"""\n'
        gathered = self.read_again({"m.py": text, "docs/a.md": f"# {'x' * 5000}\n"})
        self.assertIn("longer than 4 MiB", " ".join(f.message for f in gathered.findings))

    def read_again(self, files):
        """Gathered; the portal reads what was written of it."""
        with tempfile.TemporaryDirectory() as name:
            folder = write_files(Path(name, "source"), files)
            gathered = gather(folder, Path(name, "b.bundle"), GatherOptions(slug="m", use_cache=False))
            with BundleReader(gathered.path) as bundle:
                for lines in (bundle.symbols(), bundle.aliases(), bundle.scopes(), bundle.pages(), bundle.findings()):
                    list(lines)
        return gathered

    def test_patterns_that_go_back_and_forth_elsewhere_take_no_time_here(self):
        files = {f"{'a' * 40}{n}.py": "x = 1\n" for n in range(20)}
        bad = "*a" * 30 + "*b"
        gathered, _, _ = gather_files(
            {**files, "zarbek.toml": f'exclude = ["{bad}"]\n[owners]\n"{bad}" = "Team"\n'}, slug="m"
        )
        self.assertEqual(gathered.manifest.owners, {bad: "Team"})

    def test_a_guide_that_could_not_be_set_is_left_out(self):
        gathered, _, _ = gather_files({"m.py": "", "docs/a.md": "![" * 100_000, "docs/b.md": "# B\n"}, slug="m")
        self.assertEqual(
            [f.message[:23] for f in gathered.findings if f.file == "docs/a.md"], ["The guide was left out:"]
        )

    def test_a_text_that_takes_long_to_set_is_shown_as_it_is(self):
        html = str(render("![" * 100_000, lambda _address: None))
        self.assertIn("as it was written", html)
        self.assertIn("![![", html)


class Calls(unittest.TestCase):
    def test_values_of_a_path_stay_values(self):
        operation = Operation("GET", "/a/{x}/{y}", parameters=[NamedValue("x", "path"), NamedValue("y", "path")])
        for x, y, path in (
            ("..", "b", "/a/%2E%2E/b"),
            (".", "..", "/a/%2E/%2E%2E"),
            ("a/../b", "?", "/a/a%2F..%2Fb/%3F"),
            ("{y}", "b", "/a/%7By%7D/b"),
        ):
            with self.subTest(x):
                call = build_call(operation, "https://h.example/base", {"path": {"x": x, "y": y}})
                self.assertEqual(call.url, f"https://h.example/base{path}")

    def test_a_path_that_leads_out_of_its_server_is_refused(self):
        for path in ("/../admin", "/a/./b", "/a/.."):
            with self.subTest(path), self.assertRaises(CallRefused):
                build_call(Operation("GET", path), "https://h.example/base", {})

    def test_a_header_that_cannot_be_sent_is_refused(self):
        for value in ("a\r\nb", "€", "\x00", "\ud800"):
            with self.subTest(value), self.assertRaises(CallRefused):
                build_call(Operation("GET", "/"), "https://h.example", {"header": {"X-A": value}})


if __name__ == "__main__":
    unittest.main()
