import unittest

from zarbek.core.sources.manifests.pyproject import read_pyproject


class Pyproject(unittest.TestCase):
    def test_names_ranges_and_purls(self):
        facts = read_pyproject("""
            [project]
            name = "My_Lib"
            version = "1.2"
            dependencies = ["Tide.Book>=1,<2; python_version > '3'", "plain", "with[extra]~=2.0"]
            [project.urls]
            Source = "https://git.halmere.example/my"
        """)
        self.assertEqual((facts.purl, facts.repository), ("pkg:pypi/my-lib", "https://git.halmere.example/my"))
        self.assertEqual(
            [(d.purl, d.range) for d in facts.dependencies],
            [("pkg:pypi/plain", ""), ("pkg:pypi/tide-book", "<2,>=1"), ("pkg:pypi/with", "~=2.0")],
        )

    def test_what_cannot_be_read_is_told_not_raised(self):
        self.assertEqual(read_pyproject('[project]\ndependencies = ["???"]').unreadable, ["???"])
        self.assertIn("is no TOML", read_pyproject("[").unreadable[0])
        self.assertEqual(read_pyproject("project = 3").name, "")


if __name__ == "__main__":
    unittest.main()
