"""What the manifests of one source say together."""

import unittest

from zarbek.core.model.bundle import Dependency
from zarbek.core.sources.manifests.facts import PackageFacts, merge_facts, with_exact


class Facts(unittest.TestCase):
    def test_the_first_that_says_something_counts_and_all_dependencies(self):
        merged = merge_facts([
            PackageFacts(name="sea", purl="pkg:pypi/sea", dependencies=[Dependency("pkg:pypi/b", ">=1")]),
            PackageFacts(name="sea-js", version="2.0", purl="pkg:npm/sea", unreadable=["?"], file="package.json",
                         dependencies=[Dependency("pkg:npm/a"), Dependency("pkg:pypi/sea", "==1")]),
        ])  # fmt: skip
        self.assertEqual((merged.name, merged.version, merged.purl), ("sea", "2.0", "pkg:pypi/sea"))
        self.assertEqual([d.purl for d in merged.dependencies], ["pkg:npm/a", "pkg:pypi/b"])
        self.assertEqual((merged.unreadable, merged.file), (["?"], "package.json"))

    def test_exact_versions_of_what_is_declared_and_of_what_is_not(self):
        facts = PackageFacts(
            purl="pkg:pypi/sea", dependencies=[Dependency("pkg:pypi/a", ">=1"), Dependency("pkg:pypi/b")]
        )
        locked = [
            ("pkg:pypi/a", "1.4"),
            ("pkg:pypi/c", "3.0"),
            ("pkg:pypi/b", "1"),
            ("pkg:pypi/b", "2"),
            ("pkg:pypi/sea", "9"),
        ]
        found = {d.purl[-1]: (d.range, d.exact) for d in with_exact(facts, locked).dependencies}
        self.assertEqual(found, {"a": (">=1", "1.4"), "b": ("", ""), "c": ("", "3.0")})


if __name__ == "__main__":
    unittest.main()
