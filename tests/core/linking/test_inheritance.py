"""Types with those they have members from, within a release and across."""

import unittest

from tests.support.portals import MemoryPortal
from tests.support.sources import gather_files
from zarbek.core.linking.inheritance import Base, Heir, inheritance_of_all
from zarbek.core.linking.linker import Linker

TIDE = {"pyproject.toml": '[project]\nname = "tide"\nversion = "2.0"\n', "tide.py": "class Window: ...\n"}
OWN = {
    "pyproject.toml": '[project]\nname = "own"\nversion = "1"\ndependencies = ["tide"]\n',
    "own/__init__.py": "",
    "own/a.py": """
        from tide import Window
        class Open(Window): ...
        class Alone: ...
        """,
    "own/b.py": """
        import elsewhere
        from own import a
        class Later(a.Open, elsewhere.Thing): ...
        class _Inner(a.Open): ...
        class Loop(Loop): ...
        """,
}


class OfAll(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        _, tide, _ = gather_files(TIDE)
        _, own, _ = gather_files(OWN)
        cls.linker = Linker(own, MemoryPortal(own, tide))
        cls.inheritance = inheritance_of_all(cls.linker, lambda entry: not entry.name.startswith("_"))

    def test_bases_are_told_with_their_release_where_that_is_another(self):
        self.assertEqual(self.inheritance["own.a.Open"].bases, [Base("tide.Window", "tide", "2.0")])
        self.assertEqual(self.inheritance["own.b.Later"].bases, [Base("own.a.Open")])

    def test_heirs_are_those_that_readers_see(self):
        self.assertEqual(self.inheritance["own.a.Open"].heirs, [Heir("own.b.Later", "Later", "class")])
        self.assertEqual(self.inheritance["own.b._Inner"].bases, [Base("own.a.Open")])

    def test_what_every_class_has_by_its_language_is_no_heir(self):
        files = {"java/lang/Object.java": "package java.lang; public class Object { }",
                 "a/A.java": "package a; public class A { }", "a/B.java": "package a; public class B extends A { }"}  # fmt: skip
        _, own, _ = gather_files(files)
        inheritance = inheritance_of_all(Linker(own, MemoryPortal(own)), lambda _: True)
        self.assertEqual([b.path for b in inheritance["a.A"].bases], ["java.lang.Object"])
        self.assertNotIn("java.lang.Object", inheritance)
        self.assertEqual([h.path for h in inheritance["a.A"].heirs], ["a.B"])

    def test_what_has_no_kin_is_left_out(self):
        self.assertEqual(self.inheritance.keys() & {"own.a.Alone", "own.b.Loop"}, set())

    def test_nothing_of_it_is_held_against_the_texts_that_follow(self):
        self.assertEqual(self.linker.trace.since(0), frozenset())


if __name__ == "__main__":
    unittest.main()
