"""``use`` declarations."""

import unittest

from zarbek.core.sources.languages.rust.uses import absolute_path, iter_uses
from zarbek.core.sources.languages.syntax_tree import SourceTree, find_child


def uses(text):
    tree = SourceTree(text.encode(), "rust")
    declaration = find_child(tree.root, "use_declaration")
    return list(iter_uses(declaration.child_by_field_name("argument"), tree))


class Uses(unittest.TestCase):
    def test_each_form(self):
        for text, pairs in (
            ("use a::b::C;", [("C", "a::b::C")]), ("use a::b as c;", [("c", "a::b")]), ("use a::*;", [("*", "a")]),
            ("use a::{b, c::D, self};", [("b", "a::b"), ("D", "a::c::D"), ("a", "a")]), ("use {a::B, c};", [("B", "a::B"), ("c", "c")]),
            ("use a::{b::{self as x, C}, d::*};", [("x", "a::b"), ("C", "a::b::C"), ("*", "a::d")]), ("use a::b as _;", [("_", "a::b")]),
            ("use crate::a; ", [("a", "crate::a")]), ("use super::super::a;", [("a", "super::super::a")]),
        ):  # fmt: skip
            self.assertEqual((text, uses(text)), (text, pairs))

    def test_paths_from_the_root(self):
        for path, found in (
            ("crate::x::Y", "sea.x.Y"), ("self::Y", "sea.a.b.Y"), ("super::Y", "sea.a.Y"), ("super::super::Y", "sea.Y"),
            ("::std::fmt", "std.fmt"), ("std::fmt", "std.fmt"), ("local::Y", "sea.a.b.local.Y"), ("$crate::Y", "sea.Y"),
        ):  # fmt: skip
            self.assertEqual((path, absolute_path(path, "sea::a::b", {"local"})), (path, found))


if __name__ == "__main__":
    unittest.main()
