"""Cargo.toml."""

import unittest

from zarbek.core.sources.manifests.cargo import read_cargo


class Cargo(unittest.TestCase):
    def test_a_package_and_what_it_needs(self):
        facts = read_cargo(
            '[package]\nname = "sea"\nversion = "1.2.0"\ndescription = "All of it."\nrepository = "https://git.example/sea"\n'
            '[dependencies]\ntide = "1"\nmoon = {version = ">=2, <3", package = "moon-real"}\nland = {path = "../land"}\n[dev-dependencies]\nno = "1"\n'
        )
        self.assertEqual(
            (facts.name, facts.version, facts.summary, facts.purl), ("sea", "1.2.0", "All of it.", "pkg:cargo/sea")
        )
        self.assertEqual({d.purl: d.range for d in facts.dependencies},
                         {"pkg:cargo/land": "", "pkg:cargo/moon-real": ">=2, <3", "pkg:cargo/tide": "1"})  # fmt: skip

    def test_what_a_workspace_says_is_not_known_here(self):
        facts = read_cargo(
            '[package]\nname = "sea"\nversion = {workspace = true}\n[dependencies]\ntide = {workspace = true}\n'
        )
        self.assertEqual(
            (facts.version, [(d.purl, d.range) for d in facts.dependencies]), ("", [("pkg:cargo/tide", "")])
        )

    def test_odd_shapes_are_read_as_far_as_they_make_sense(self):
        self.assertRegex(read_cargo("[").unreadable[0], "^it is no TOML")
        for text in ("package = 3\ndependencies = []", "[workspace]\nmembers = []", ""):
            self.assertEqual((text, read_cargo(text).purl, read_cargo(text).dependencies), (text, "", []))


if __name__ == "__main__":
    unittest.main()
