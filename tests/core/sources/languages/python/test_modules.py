"""Which module a file is."""

import unittest

from zarbek.core.sources.languages.python.modules import locate_modules


def modules(*files):
    return {m.file: m.module for m in locate_modules(list(files), files)}


class Modules(unittest.TestCase):
    def test_packages_begin_where_their_topmost_init_is(self):
        found = modules("lib/sea/__init__.py", "lib/sea/boats/__init__.py", "lib/sea/boats/raft.py", "setup.py")
        self.assertEqual(found, {"lib/sea/__init__.py": "sea", "lib/sea/boats/__init__.py": "sea.boats",
                                 "lib/sea/boats/raft.py": "sea.boats.raft", "setup.py": "setup"})  # fmt: skip

    def test_folders_without_init_are_namespace_packages(self):
        self.assertEqual(modules("sea/boats/raft.py"), {"sea/boats/raft.py": "sea.boats.raft"})
        self.assertEqual(modules("src/sea/boats/raft.py"), {"src/sea/boats/raft.py": "sea.boats.raft"})

    def test_beside_src_nothing_is_installed(self):
        self.assertEqual(list(modules("src/sea/__init__.py", "tests/test_sea.py", "conf.py")), ["src/sea/__init__.py"])
        two = modules(
            "a/pyproject.toml", "a/src/sea/__init__.py", "a/tools/x.py", "b/pyproject.toml", "b/land/__init__.py"
        )
        self.assertEqual(two, {"a/src/sea/__init__.py": "sea", "b/land/__init__.py": "land"})

    def test_stubs_are_of_the_module_that_they_describe(self):
        found = locate_modules(["sea-stubs/__init__.pyi", "sea-stubs/raft.pyi"])
        self.assertEqual(
            [(m.module, m.is_stub, m.is_package) for m in found], [("sea", True, True), ("sea.raft", True, False)]
        )

    def test_what_cannot_be_imported_is_no_module(self):
        self.assertEqual(modules("my-script.py", "2nd/x.py", "sea/a b.py", "sea/ok.py"), {"sea/ok.py": "sea.ok"})


if __name__ == "__main__":
    unittest.main()
