"""What imports bring into a module."""

import ast
import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.sources.languages.python.imports import absolute_base, read_import, read_import_from

NAMES = st.lists(st.sampled_from("abcd"), min_size=1, max_size=4)


class Imports(unittest.TestCase):
    def test_names_that_an_import_binds(self):
        imports = {}
        for node in ast.parse("import a.b.c\nimport d.e as f, g").body:
            read_import(node, imports)
        self.assertEqual(imports, {"a": "a", "f": "d.e", "g": "g"})

    def test_names_and_wildcards_of_a_from_import(self):
        imports, wildcards = {}, []
        node = ast.parse("from .parts import wheel, spoke as s, axle").body[0]
        pairs = read_import_from(node, "cart.body", False, imports, wildcards)
        self.assertEqual(pairs, [("wheel", "cart.parts.wheel"), ("s", "cart.parts.spoke"), ("axle", "cart.parts.axle")])
        self.assertEqual(dict(pairs), imports)
        self.assertEqual(
            read_import_from(ast.parse("from ..x import *").body[0], "a.b.c", False, imports, wildcards), []
        )
        self.assertEqual(wildcards, ["a.x"])

    def test_dots_count_from_the_package(self):
        for text, module, is_package, base in (
            ("from . import x", "a.b", False, "a"), ("from . import x", "a.b", True, "a.b"),
            ("from .. import x", "a.b", True, "a"), ("from ..c import x", "a.b.d", False, "a.c"),
            ("from ... import x", "a.b", False, ""), ("from c import x", "a.b", False, "c"),
        ):  # fmt: skip
            found = absolute_base(ast.parse(text).body[0], module, is_package)
            self.assertEqual((text, module, is_package, found), (text, module, is_package, base))

    @given(NAMES, st.integers(1, 3), NAMES)
    def test_a_relative_import_is_the_absolute_one_that_python_makes_of_it(self, package, level, inner):
        from importlib.util import resolve_name

        name = "." * level + ".".join(inner)
        node = ast.parse(f"from {name} import x").body[0]
        try:
            expected = resolve_name(name, ".".join(package))
        except ImportError:
            return  # Above the top: Python raises, and what is meant is nobody's name.
        self.assertEqual(absolute_base(node, ".".join(package), True), expected)


if __name__ == "__main__":
    unittest.main()
