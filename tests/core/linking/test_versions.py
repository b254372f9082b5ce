import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import VersionError
from zarbek.core.linking.versions import check_version, choose, newest, sort_key

VERSIONS = st.lists(
    st.from_regex(r"[0-9]{1,2}\.[0-9]{1,2}(rc[0-9])?", fullmatch=True), min_size=1, max_size=8, unique=True
)


class Versions(unittest.TestCase):
    def test_order_is_by_number_not_by_letter(self):
        self.assertEqual(sorted(["1.10", "1.9", "2.0rc1", "2.0"], key=sort_key), ["1.9", "1.10", "2.0rc1", "2.0"])

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
        self.assertFalse(any(sort_key(v)[1] > sort_key(chosen)[1] for v in (finals or versions)))


if __name__ == "__main__":
    unittest.main()
