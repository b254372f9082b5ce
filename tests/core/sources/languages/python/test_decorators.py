"""What decorators, and warnings at the beginning of a body, say of a definition."""

import ast
import unittest

from zarbek.core.sources.languages.python.decorators import (
    deprecated_by_warning,
    module_deprecated_by_warning,
    read_decorators,
)
from zarbek.core.sources.languages.python.signatures import SourceText


def marks_of(decorators):
    source = f"{decorators}\ndef f(): pass\n"
    return read_decorators(ast.parse(source).body[0].decorator_list, SourceText(source))


class Decorators(unittest.TestCase):
    def test_what_means_something_is_a_flag_and_the_rest_is_shown(self):
        marks = marks_of("@staticmethod\n@abc.abstractmethod\n@route('/x',  methods=[1])\n@typing.final")
        self.assertEqual(
            (marks.flags, marks.shown, marks.is_static),
            (["static", "abstract", "final"], ["@route('/x',  methods=[1])"], True),
        )

    def test_properties_of_many_names(self):
        for name in ("property", "functools.cached_property", "my_property", "sa.hybrid_property"):
            self.assertEqual((name, marks_of(f"@{name}").is_property), (name, True))
        self.assertEqual(marks_of("@cached_property").flags, ["cached"])

    def test_what_changes_a_property_names_it(self):
        found = {name: marks_of(f"@size.{name}").changes_property for name in ("setter", "deleter", "expression")}
        self.assertEqual(found, {"setter": "settable", "deleter": "deletable", "expression": "expression"})
        self.assertEqual(marks_of("@setter").changes_property, "")

    def test_options_of_a_class_of_data(self):
        self.assertEqual(
            marks_of("@dataclasses.dataclass(frozen=True, kw_only=True, eq=x)").flags,
            ["dataclass", "frozen", "keyword-only"],
        )
        self.assertEqual(marks_of("@define(frozen=False)").flags, ["dataclass"])

    def test_deprecation_with_and_without_a_version(self):
        for decorator, since, text, instead in (
            ("@deprecated('Use `sail` instead.')", "", "Use `sail` instead.", "sail"),
            ("@util.deprecated('1.4', 'Use sail() instead.')", "1.4", "Use sail() instead.", "sail"),
            ("@deprecated", "", "", ""),
        ):
            found = marks_of(decorator).deprecated
            self.assertEqual((found.since, found.text, found.instead.removesuffix("()")), (since, text, instead))


class Warnings(unittest.TestCase):
    def warned(self, body):
        node = ast.parse("def f(x):\n" + "\n".join(f"    {row}" for row in body.split("\n"))).body[0]
        found = deprecated_by_warning(node)
        return found.text if found else None

    def test_a_warning_at_the_beginning_deprecates(self):
        for body in (
            '"""Row."""\nwarnings.warn("row() is deprecated, use sail()", DeprecationWarning)\nreturn 1',
            'import warnings\nwarnings.warn("row() is deprecated, use sail()", category=FutureWarning, stacklevel=2)',
            'warn_deprecated("row() is deprecated, use sail()")',
        ):
            self.assertEqual((body, self.warned(body)), (body, "row() is deprecated, use sail()"))

    def test_what_warns_of_something_else_does_not(self):
        for body in (
            'if x:\n    warnings.warn("row() is deprecated", DeprecationWarning)',
            'x = 1\nwarnings.warn("row() is deprecated", DeprecationWarning)',
            'warnings.warn("row() is slow", UserWarning)',
            'warnings.warn("%s is deprecated" % x, DeprecationWarning)',
            'warnings.warn("The argument x of row() is deprecated", DeprecationWarning)',
            "pass",
        ):
            self.assertEqual((body, self.warned(body)), (body, None))

    def test_a_module_speaks_of_itself(self):
        text = 'import warnings\nwarnings.warn("%s is deprecated; use sea.new", DeprecationWarning)\n'
        self.assertEqual(
            module_deprecated_by_warning(ast.parse(text % "This module")).text, "This module is deprecated; use sea.new"
        )
        self.assertIsNone(module_deprecated_by_warning(ast.parse(text % "Row")))


if __name__ == "__main__":
    unittest.main()
