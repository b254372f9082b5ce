"""Exact versions from lock files and bills of materials, whoever wrote them."""

import json
import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import gather_files
from zarbek.core.sources.manifests.locks import LOCK_FILES, read_lock
from zarbek.core.sources.manifests.sboms import read_sbom

CASES = {
    "uv.lock": ('[[package]]\nname = "Tide_Book"\nversion = "2.0.0"\n', [("pkg:pypi/tide-book", "2.0.0")]),
    "pylock.toml": ('[[packages]]\nname = "tidebook"\nversion = "2.0"\n', [("pkg:pypi/tidebook", "2.0")]),
    "poetry.lock": ('[[package]]\nname = "tidebook"\nversion = "2.0"\n', [("pkg:pypi/tidebook", "2.0")]),
    "requirements.txt": ("# pins\ntidebook[x]==2.0 ; python_version>'3'\nother>=1\n-r more.txt\n", [("pkg:pypi/tidebook", "2.0")]),
    "Pipfile.lock": ('{"default": {"tidebook": {"version": "==2.0"}, "local": {"path": "."}}}', [("pkg:pypi/tidebook", "2.0")]),
    "package-lock.json": (
        '{"packages": {"": {"version": "1.0.0"}, "node_modules/@halmere/deck": {"version": "2.1.0"},'
        ' "node_modules/a/node_modules/b": {"version": "9"}}}', [("pkg:npm/%40halmere/deck", "2.1.0")],
    ),
    "Cargo.lock": ('[[package]]\nname = "keelmath"\nversion = "0.3.0"\n', [("pkg:cargo/keelmath", "0.3.0")]),
    "gradle.lockfile": ("# comment\nhalmere.port:berthplan:1.1.0=compileClasspath,runtimeClasspath\nempty=\n",
                        [("pkg:maven/halmere.port/berthplan", "1.1.0")]),
    "packages.lock.json": ('{"dependencies": {"net8.0": {"Gangway": {"type": "Direct", "resolved": "1.1.0"}}}}',
                           [("pkg:nuget/Gangway", "1.1.0")]),
    "conan.lock": ('{"requires": ["hullsense/2.0.0#rev%1", "bare"]}', [("pkg:generic/hullsense", "2.0.0")]),
}  # fmt: skip


class Locks(unittest.TestCase):
    def test_each_form(self):
        for name, (text, expected) in CASES.items():
            with self.subTest(name):
                self.assertEqual(read_lock(name, text), expected)

    @given(
        st.sampled_from(sorted(LOCK_FILES)),
        st.one_of(
            st.text(max_size=80),
            st.recursive(
                st.none() | st.text(max_size=5),
                lambda c: (
                    st.lists(c, max_size=3)
                    | st.dictionaries(
                        st.sampled_from(["packages", "package", "requires", "dependencies", "default", "a"]),
                        c,
                        max_size=3,
                    )
                ),
            ).map(json.dumps),
        ),
    )
    def test_anything_is_read_or_refused(self, name, text):
        try:
            found = read_lock(name, text)
        except ValueError:
            return
        self.assertEqual([(p, v) for p, v in found if not p.startswith("pkg:") or not v], [])


class BillsOfMaterials(unittest.TestCase):
    def test_cyclonedx_nested_and_spdx_of_both_ages(self):
        nested = {"purl": "pkg:pypi/outer@1.0", "components": [{"purl": "pkg:npm/%40a/inner@2.0?x=y#z"}]}
        self.assertEqual(sorted(read_sbom(json.dumps({"bomFormat": "CycloneDX", "components": [nested, {"name": "none"}]}))),
                         [("pkg:npm/%40a/inner", "2.0"), ("pkg:pypi/outer", "1.0")])  # fmt: skip
        reference = {"referenceType": "purl", "referenceLocator": "pkg:cargo/keelmath@0.3.0"}
        package = {"externalRefs": [{"referenceType": "cpe23Type", "referenceLocator": "x"}, reference]}
        self.assertEqual(
            read_sbom(json.dumps({"spdxVersion": "SPDX-2.3", "packages": [package]})), [("pkg:cargo/keelmath", "0.3.0")]
        )
        graph = [{"type": "software_Package", "software_packageUrl": "pkg:maven/g/a@3"}, {"type": "Person"}]
        self.assertEqual(read_sbom(json.dumps({"@context": "x", "@graph": graph})), [("pkg:maven/g/a", "3")])

    def test_other_json_is_refused(self):
        for text in ("[]", "{}", "3", '{"components": []}', "{"):
            with self.subTest(text), self.assertRaises(ValueError):
                read_sbom(text)


class Gathering(unittest.TestCase):
    MANIFEST = '[project]\nname = "use"\ndependencies = ["tidebook>=1,<3", "other"]\n'

    def dependencies(self, **files):
        files = {"pyproject.toml": self.MANIFEST, "use.py": "", **files}
        gathered, _, _ = gather_files(files, slug="use", version="1")
        return {d.purl: (d.range, d.exact) for d in gathered.manifest.dependencies}, gathered.findings

    def test_a_lock_wins_over_a_bill_and_both_over_the_range(self):
        bill = json.dumps(
            {"bomFormat": "CycloneDX", "components": [{"purl": "pkg:pypi/tidebook@1.0"}, {"purl": "pkg:pypi/deep@4"}]}
        )
        lock = '[[package]]\nname = "tidebook"\nversion = "2.0"\n'
        found, _ = self.dependencies(**{"uv.lock": lock, "use.cdx.json": bill})
        self.assertEqual(
            found, {"pkg:pypi/tidebook": ("<3,>=1", "2.0"), "pkg:pypi/other": ("", ""), "pkg:pypi/deep": ("", "4")}
        )

    def test_two_versions_of_one_package_are_no_exact_version(self):
        lock = "".join(f'[[package]]\nname = "tidebook"\nversion = "{v}"\n' for v in ("1.0", "2.0"))
        self.assertEqual(self.dependencies(**{"uv.lock": lock})[0]["pkg:pypi/tidebook"], ("<3,>=1", ""))

    def test_a_broken_lock_is_a_finding(self):
        _, findings = self.dependencies(**{"uv.lock": "[[package"})
        self.assertEqual([(f.rule, f.file) for f in findings], [("text/unreadable", "uv.lock")])


if __name__ == "__main__":
    unittest.main()
