"""One symbol, several public names."""

import unittest

from tests.support.sources import gather_files


class Exports(unittest.TestCase):
    def aliases(self, files):
        _, index, _ = gather_files(files)
        return {a.name: (a.path, a.public) for a in index.alias_list}, index

    def test_chains_of_imports_end_at_the_definition(self):
        found, _ = self.aliases(
            {"p/__init__.py": "from .a import X", "p/a.py": "from p.b import X", "p/b.py": "class X: ..."}
        )
        self.assertEqual(found, {"p.b.X": ("p.X", False), "p.a.X": ("p.X", True)})

    def test_a_variable_in_the_place_of_a_module_hides_it_not(self):
        _, index = self.aliases({
            "p/__init__.py": "if NEW:\n    sums = refuse('sums')\nelse:\n    from p import sums\n", "p/sums.py": "def add(): ...\n",
        })  # fmt: skip
        self.assertEqual({p: index.symbols[p].kind for p in ("p.sums", "p.sums.add")},
                         {"p.sums": "module", "p.sums.add": "function"})  # fmt: skip

    def test_all_decides_what_is_public(self):
        found, _ = self.aliases(
            {"p/__init__.py": "from .a import X, Y\n__all__ = ['X']", "p/a.py": "class X: ...\nclass Y: ..."}
        )
        self.assertEqual(found, {"p.a.X": ("p.X", False), "p.Y": ("p.a.Y", True)})

    def test_what_a_module_uses_is_no_name_of_it(self):
        found, _ = self.aliases({
            "p/__init__.py": "", "p/a.py": "class X: ...",
            "p/b.py": "from .a import X\ndef f(x: X): ...", "p/c.py": "from .a import X\ndef f(): ...",
        })  # fmt: skip
        self.assertEqual(found, {"p.b.X": ("p.a.X", False), "p.c.X": ("p.a.X", True)})

    def test_wildcards_bring_public_names_or_those_of_all(self):
        found, _ = self.aliases({
            "p/__init__.py": "from .a import *\nfrom .b import *", "p/a.py": "class X: ...\nclass _H: ...",
            "p/b.py": "__all__ = ['_Z']\nclass _Z: ...\nclass W: ...",
        })  # fmt: skip
        self.assertEqual(found, {"p.a.X": ("p.X", False), "p.b._Z": ("p._Z", False)})

    def test_an_assigned_name_is_an_alias_and_no_variable(self):
        found, index = self.aliases({"p/__init__.py": "from .a import f\ng = f\nh = 3", "p/a.py": "def f(): ..."})
        self.assertEqual(found["p.g"], ("p.f", True))
        self.assertNotIn("p.g", index.symbols)
        self.assertIn("p.h", index.symbols)

    def test_a_variable_that_names_what_nobody_knows_is_handed_on_itself(self):
        _, index = self.aliases(
            {"p/__init__.py": "from .a import find, more", "p/a.py": "TOOL = Tool()\nfind = TOOL.find\nmore = find"}
        )
        self.assertEqual({e.path: e.kind for e in index.symbols.values() if e.kind not in ("module", "package")},
                         {"p.find": "variable", "p.a.TOOL": "constant"})  # fmt: skip
        self.assertEqual({a.name for a in index.alias_list if a.path == "p.find"}, {"p.a.find", "p.a.more", "p.more"})

    def test_circles_end(self):
        found, _ = self.aliases({"p/__init__.py": "from .a import x", "p/a.py": "from p import x"})
        self.assertEqual(found, {})

    def test_relative_imports_count_their_dots(self):
        found, _ = self.aliases(
            {
                "p/__init__.py": "",
                "p/q/__init__.py": "from ..r import X",
                "p/q/s.py": "from . import X as Y\nfrom .. import r",
                "p/r.py": "class X: ...",
            }
        )
        self.assertEqual(
            {n: p for n, (p, _) in found.items()}, {"p.r.X": "p.q.X", "p.q.s.Y": "p.q.X", "p.q.s.r": "p.r"}
        )


if __name__ == "__main__":
    unittest.main()
