import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import VersionError
from zarbek.core.linking.versions import check_version, choose, newest, sort_key, supported_versions

VERSIONS = st.lists(
    st.from_regex(r"[0-9]{1,2}\.[0-9]{1,2}(rc[0-9])?", fullmatch=True), min_size=1, max_size=8, unique=True
)


class Versions(unittest.TestCase):
    def test_order_is_by_number_not_by_letter(self):
        self.assertEqual(sorted(["1.10", "1.9", "2.0rc1", "2.0"], key=sort_key), ["1.9", "1.10", "2.0rc1", "2.0"])

    def test_each_ecosystem_has_its_own_order(self):
        """Sources: PEP 440, Semantic Versioning 2.0.0 (item 11), Maven "Version Order Specification", NuGet
        "Package versioning"."""
        cases = {
            "pypi": ["1.0.dev1", "1.0a1", "1.0rc1", "1.0", "1.0.0-1", "1.0.post2", "1!0.1"],
            "npm": ["1.0.0-1", "1.0.0-next.9", "1.0.0-next.10", "1.0.0", "1.0.1-0", "1.0.1"],
            "cargo": ["0.9.0", "1.0.0-alpha.1", "1.0.0-beta", "1.0.0"],
            "golang": ["v0.0.0-20240101000000-abcdefabcdef", "v0.1.0-rc.1", "v0.1.0", "v1.10.0"],
            "maven": ["1.0-alpha-1", "1.0-M2", "1.0-rc1", "1.0-SNAPSHOT", "1.0", "5.0.0.RELEASE", "33.0.0-jre",
                      "33.1.0-android", "33.1.0-jre"],
            "nuget": ["1.0.0-beta.9", "1.0.0-beta.10", "1.0.0", "1.0.0.1"],
            "": ["0.9", "1.0.0.dev3", "1.0.0-1", "1.0.0-next.9", "1.0.0-next.10", "1.0.0", "1.0.post1", "1.10", "2.0rc1", "2.0"],
        }  # fmt: skip
        for ecosystem, ordered in cases.items():
            with self.subTest(ecosystem):
                self.assertEqual(sorted(sorted(ordered), key=lambda v: sort_key(v, ecosystem)), ordered)

    def test_what_comes_before_a_release_is_not_the_newest(self):
        for ecosystem, versions, expected in (
            ("maven", ["33.0.0-jre", "33.1.0-jre", "34.0.0-rc1"], "33.1.0-jre"),
            ("maven", ["4.9.9.RELEASE", "5.0.0.RELEASE", "5.0.1.BUILD-SNAPSHOT"], "5.0.0.RELEASE"),
            ("npm", ["1.0.0", "2.0.0-next.10", "2.0.0-next.9"], "1.0.0"),
            ("npm", ["2.0.0-next.10", "2.0.0-next.9"], "2.0.0-next.10"),
            ("pypi", ["1.0.0", "1.0.0-1"], "1.0.0-1"),
            ("", ["1.0.0", "1.0.0-1"], "1.0.0"),
            ("", ["some", "words"], "words"),
        ):
            with self.subTest(ecosystem=ecosystem, versions=versions):
                self.assertEqual(newest(versions, ecosystem), expected)
                self.assertEqual(newest(versions[::-1], ecosystem), expected)

    def test_choice(self):
        known = ["1.0", "1.5", "2.0", "3.0rc1"]
        cases = {
            ("<2", ""): "1.5",
            ("", ""): "2.0",
            (">=3.0rc1", ""): "3.0rc1",
            ("<2", "1.0"): "1.0",
            ("1.x", ""): "1.5",
            (">9", ""): "",
        }
        for (range_text, exact), expected in cases.items():
            with self.subTest(range_text=range_text):
                self.assertEqual(choose(known, range_text, exact), expected)

    def test_unreadable_ranges_and_versions_say_so(self):
        with self.assertRaises(VersionError):
            choose(["1"], "about two")
        for bad in ("", "a b", "1/2", "..", "1@2"):
            with self.subTest(bad), self.assertRaises(VersionError):
                check_version(bad)

    @given(VERSIONS)
    def test_newest_is_a_final_release_if_there_is_one(self, versions):
        chosen = newest(versions)
        finals = [v for v in versions if "rc" not in v]
        self.assertIn(chosen, finals or versions)
        self.assertEqual([v for v in (finals or versions) if sort_key(v)[1] > sort_key(chosen)[1]], [])


class Support(unittest.TestCase):
    def check(self, published, expected, **options):
        with self.subTest(published):
            self.assertEqual(supported_versions(published, **options), expected)

    def test_the_newest_of_the_newest_line(self):
        self.check([], [])
        self.check(["1.0.0", "1.1.0"], ["1.1.0"])
        self.check(["1.0.0", "2.0.0"], ["2.0.0"])
        self.check(["0.3.0", "0.4.0", "0.4.1"], ["0.4.1"])
        self.check(["2.0.0", "2.1.0rc1"], ["2.0.0"])

    def test_an_older_line_that_is_maintained_declared_or_retired(self):
        self.check(["1.0.0", "2.0.0", "1.0.1"], ["2.0.0", "1.0.1"])
        self.check(["1.0.0", "2.0.0"], ["2.0.0", "1.0.0"], lines=["1.x"])
        self.check(["1.0.0", "2.0.0", "1.0.1"], ["2.0.0", "1.0.0"], retired=["1.0.1"])
        self.check(["1.0.0", "2.0.0", "1.0.1"], ["2.0.0"], retired=["1.0.0", "1.0.1"])
        self.check(["1.0.0", "2.0.0", "2.1.0", "2.0.1"], ["2.1.0"])
        self.check(["1.0.0", "2.0.0", "1.1.0rc1"], ["2.0.0"])


if __name__ == "__main__":
    unittest.main()


class Ecosystems(unittest.TestCase):
    KNOWN = ("1.0.0", "1.2.0", "1.5.0", "2.0.0", "2.1.0-rc.1")

    def test_each_has_its_own_notation(self):
        for ecosystem, range_text, expected in (
            ("npm", "^1.2", "1.5.0"), ("npm", "~1.2.0", "1.2.0"), ("npm", "1 || 2", "2.0.0"), ("npm", ">=2.0.1", ""),
            ("cargo", "1.2", "1.5.0"), ("cargo", ">=1, <1.5", "1.2.0"), ("cargo", "=1.0.0", "1.0.0"),
            ("golang", "v1.2.0", "1.2.0"), ("golang", "v1.1.0", "1.5.0"),
            ("maven", "[1.0,2.0)", "1.5.0"), ("maven", "1.1", "2.0.0"), ("maven", "1.2.0", "1.2.0"),
            ("nuget", "[1.0,2.0)", "1.5.0"), ("nuget", "1.1.0", "2.0.0"), ("generic", ">=1.1,<2", "1.5.0"),
        ):  # fmt: skip
            with self.subTest(f"{ecosystem} {range_text}"):
                self.assertEqual(choose(self.KNOWN, range_text, "", ecosystem), expected)

    def test_what_an_ecosystem_forbids_is_told(self):
        for ecosystem, range_text in (("npm", "about two"), ("maven", "[1"), ("golang", "latest-ish")):
            with self.subTest(ecosystem), self.assertRaises(VersionError):
                choose(self.KNOWN, range_text, "", ecosystem)
