"""What builds of C and C++ declare."""

import unittest

from zarbek.core.sources.manifests.cmake import read_cmake, read_conan, read_vcpkg


def ranges(facts):
    return {d.purl.removeprefix("pkg:generic/"): d.range for d in facts.dependencies}


class Cmake(unittest.TestCase):
    def test_the_project(self):
        facts = read_cmake(
            'cmake_minimum_required(VERSION 3.20)\nproject(Hull\n  VERSION 1.2.3\n  DESCRIPTION "All of it."\n  LANGUAGES CXX)\n'
        )
        self.assertEqual(
            (facts.name, facts.version, facts.summary, facts.purl), ("Hull", "1.2.3", "All of it.", "pkg:generic/hull")
        )

    def test_packages_with_their_ranges(self):
        facts = read_cmake(
            "find_package(Boost 1.70 REQUIRED)\nFIND_PACKAGE(Sea 2...<3)\nfind_package(Tide 1.2 EXACT)\nfind_package(Moon)\n"
            "find_package(Mast 2...4 CONFIG)\n# find_package(No 1)\npkg_check_modules(G REQUIRED glib-2.0>=2.50 cairo = 1.16)\n"
        )
        self.assertEqual(ranges(facts), {
            "boost": ">=1.70", "sea": ">=2,<3", "tide": "==1.2", "moon": "", "mast": ">=2,<=4", "glib-2.0": ">=2.50", "cairo": "==1.16",
        })  # fmt: skip

    def test_lists_of_package_managers(self):
        self.assertEqual(
            ranges(read_conan("[requires]\nzlib/1.3\nfmt/[>=9 <11]\n[generators]\ncmake/no\n")),
            {"zlib": "==1.3", "fmt": ">=9,<11"},
        )
        facts = read_vcpkg(
            '{"name": "hull", "version-semver": "1.0", "dependencies": ["a", {"name": "b", "version>=": "2.0"}]}'
        )
        self.assertEqual(
            (facts.purl, facts.version, ranges(facts)), ("pkg:generic/hull", "1.0", {"a": "", "b": ">=2.0"})
        )

    def test_files_that_say_nothing(self):
        self.assertEqual(read_cmake("").purl, "")
        self.assertEqual(read_conan("").dependencies, [])
        self.assertRegex(read_vcpkg("{").unreadable[0], "^it is no JSON")
        self.assertEqual(read_vcpkg("[]").dependencies, [])


if __name__ == "__main__":
    unittest.main()
