"""Declarators of C and C++."""

import unittest

from zarbek.core.sources.languages.cpp.declarators import read_declarator, read_parameters
from zarbek.core.sources.languages.syntax_tree import SourceTree


def first(text):
    tree = SourceTree(text.encode(), "cpp")
    declaration = tree.root.named_children[0]
    return read_declarator(declaration.child_by_field_name("declarator"), tree), tree


class Declarators(unittest.TestCase):
    def test_names_and_what_stands_around_them(self):
        for text, name, marks in (
            ("int a;", "a", ""), ("int *a;", "a", "*"), ("int &a = b;", "a", "&"), ("int &&a = b;", "a", "&&"),
            ("int **a;", "a", "* *"), ("int a[3];", "a", "[3]"), ("int sea::a;", "sea::a", ""), ("int (*a)(int);", "a", "*"),
        ):  # fmt: skip
            found, _ = first(text)
            self.assertEqual((text, found.name, found.marks.strip()), (text, name, marks))

    def test_functions_and_values(self):
        self.assertIsNotNone(first("int f(int a);")[0].function)
        self.assertEqual(first("int a = 1 + 2;")[0].value, "1 + 2")
        self.assertEqual(first("bool operator==(A a, A b);")[0].name.replace(" ", ""), "operator==")

    def test_parameters_with_types_and_defaults(self):
        found, tree = first("void f(const A &a, int b[], int *, B c = {1}, ...);")
        parameters = read_parameters(found.function, tree)
        self.assertEqual([(p.name, p.default) for p in parameters[:4]], [("a", ""), ("b", ""), ("", ""), ("c", "{1}")])
        self.assertEqual([p.type.replace(" ", "") for p in parameters[:4]], ["constA&", "int[]", "int*", "B"])
        self.assertEqual(len(parameters), 5)


if __name__ == "__main__":
    unittest.main()
