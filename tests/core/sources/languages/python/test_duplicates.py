"""Names that are defined twice in one body."""

import ast
import unittest

from zarbek.core.sources.languages.python.duplicates import find_duplicates


def told(text):
    return [(f.subject, f.line) for f in find_duplicates(ast.parse(text), file="sea.py", module="sea")]


class Duplicates(unittest.TestCase):
    def test_the_later_hides_the_former(self):
        self.assertEqual(told("def f(): ...\ndef g(): ...\ndef f(): ..."), [("sea.f", 3)])
        self.assertEqual(told("class A:\n    def f(self): ...\n    def f(self): ..."), [("sea.A.f", 3)])

    def test_the_message_says_what_is_lost(self):
        (found,) = find_duplicates(ast.parse('def f():\n    """F."""\ndef f(): ...'), file="sea.py", module="sea")
        self.assertEqual(
            found.message, "f is defined again here; this hides the definition on line 1 and its documentation."
        )
        self.assertEqual((found.rule, found.severity, found.column), ("text/duplicate-definition", "warning", 1))

    def test_what_is_meant_so_is_no_slip(self):
        for text in (
            "if x:\n    def f(): ...\nelse:\n    def f(): ...",
            "@overload\ndef f(): ...\n@overload\ndef f(a): ...\ndef f(a=1): ...",
            "class A:\n    @property\n    def f(self): ...\n    @f.setter\n    def f(self, v): ...",
            "def f(): ...\nx = f\ndef f(): ...",
            "def f(): ...\ndel f\ndef f(): ...",
            "def f(): ...\nf = 1",
        ):
            self.assertEqual((text, told(text)), (text, []))


if __name__ == "__main__":
    unittest.main()
