"""package.json."""

import json
import unittest

from zarbek.core.sources.manifests.npm import npm_purl, read_package_json


def ranges(**groups):
    return {d.purl: d.range for d in read_package_json(json.dumps({"name": "sea", **groups})).dependencies}


class Npm(unittest.TestCase):
    def test_scopes_are_namespaces(self):
        self.assertEqual((npm_purl("sea"), npm_purl("@halmere/sea")), ("pkg:npm/sea", "pkg:npm/%40halmere/sea"))
        facts = read_package_json('{"name": "@halmere/sea"}')
        self.assertEqual((facts.name, facts.purl), ("sea", "pkg:npm/%40halmere/sea"))

    def test_what_others_must_have_counts_and_what_builds_it_does_not(self):
        found = ranges(dependencies={"a": "^1.2"}, peerDependencies={"b": ">=2", "a": "*"}, devDependencies={"c": "1"})
        self.assertEqual(found, {"pkg:npm/a": "^1.2", "pkg:npm/b": ">=2"})

    def test_places_are_no_ranges(self):
        wanted = {
            "a": "file:../a",
            "b": "git+https://git.example/b.git",
            "c": "workspace:^1.0",
            "d": 3,
            "e": "workspace:*",
        }
        self.assertEqual(list(ranges(dependencies=wanted).values()), ["", "", "^1.0", "", "*"])

    def test_where_it_can_be_browsed(self):
        for value in ('"https://git.example/sea.git"', '{"type": "git", "url": "git+https://git.example/sea.git"}'):
            self.assertEqual(read_package_json(f'{{"repository": {value}}}').repository, "https://git.example/sea")

    def test_what_is_no_package_is_told(self):
        self.assertRegex(read_package_json("{").unreadable[0], "^it is no JSON")
        self.assertEqual(read_package_json("[]").unreadable, ["it is no JSON object"])
        self.assertEqual(read_package_json('{"dependencies": ["a"]}').dependencies, [])


if __name__ == "__main__":
    unittest.main()
