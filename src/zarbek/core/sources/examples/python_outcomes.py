"""What the assertions of Python's test frameworks say: what is looked at, and what comes out.

Sources: The Python Standard Library, "unittest", class TestCase; The Python Language Reference, 7.3 (assert).
"""

from __future__ import annotations

import ast
from collections.abc import Callable

from zarbek.core.model.example import ExamplePart

#: Of methods with two values: the verb between them.
_OF_TWO = {
    "assertEqual": "is", "assertEquals": "is", "assertNotEqual": "is not", "assertIs": "is", "assertIsNot": "is not",
    "assertIsInstance": "is a", "assertNotIsInstance": "is no", "assertAlmostEqual": "is about",
    "assertNotAlmostEqual": "is not about", "assertListEqual": "is", "assertDictEqual": "is", "assertTupleEqual": "is",
    "assertSetEqual": "is", "assertSequenceEqual": "is", "assertMultiLineEqual": "is",
    "assertCountEqual": "has, in any order,",
    "assertGreater": "is more than", "assertGreaterEqual": "is at least", "assertLess": "is less than",
    "assertLessEqual": "is at most", "assertRegex": "fits", "assertNotRegex": "does not fit",
}  # fmt: skip
#: Of those with one: the verb, and what comes out.
_OF_ONE = {"assertTrue": ("is", "True"), "assertFalse": ("is", "False"), "assertIsNone": ("is", "None"),
           "assertIsNotNone": ("is not", "None")}  # fmt: skip
_HAVING = {"assertIn": "has", "assertNotIn": "does not have"}
_RAISING = ("assertRaises", "assertRaisesRegex", "assertWarns", "assertWarnsRegex", "raises", "warns")
_SIGNS = {ast.Eq: "is", ast.NotEq: "is not", ast.Is: "is", ast.IsNot: "is not", ast.Lt: "is less than",
          ast.LtE: "is at most", ast.Gt: "is more than", ast.GtE: "is at least"}  # fmt: skip
_SWAPPED = {"is less than": "is more than", "is more than": "is less than", "is at most": "is at least",
            "is at least": "is at most"}  # fmt: skip


Say = Callable[[ast.expr], str]


def outcome_of(statement: ast.stmt, say: Say) -> ExamplePart | None:
    """The outcome that a statement asserts; None for any other. say: an expression as it is shown."""
    if isinstance(statement, ast.Assert):
        return _of_test(statement.test, statement.lineno, say)
    value = statement.value if isinstance(statement, ast.Expr) else None
    value = value.value if isinstance(value, ast.Await) else value
    if isinstance(value, ast.Call) and isinstance(value.func, ast.Attribute | ast.Name):
        return _of_call(value, statement.lineno, say)
    return None


def raising(statement: ast.With | ast.AsyncWith, say: Say) -> str | None:
    """The error that is awaited of the body of a statement; None for another."""
    for item in statement.items:
        call = item.context_expr
        if isinstance(call, ast.Call) and call.args and _name(call) in _RAISING:
            return say(call.args[0])
    return None


def _of_call(call: ast.Call, line: int, say: Say) -> ExamplePart | None:
    name, given = _name(call), [a for a in call.args if not isinstance(a, ast.Starred)]
    if name in _OF_TWO and len(given) >= 2:
        return _shown(given[0], _OF_TWO[name], given[1], line, say)
    if name in _OF_ONE and given:
        how, result = _OF_ONE[name]
        return ExamplePart("outcome", say(given[0]), how, result, line)
    if name in _HAVING and len(given) >= 2:
        return ExamplePart("outcome", say(given[1]), _HAVING[name], say(given[0]), line)
    if name in _RAISING and len(given) >= 2:
        return _of_raising(call, name, given, line, say)
    return None


def _of_raising(call: ast.Call, name: str, given: list[ast.expr], line: int, say: Say) -> ExamplePart:
    """A call that is handed over with what it is to be called with."""
    called = given[2 if "Regex" in name else 1 :]
    inner = [*map(say, called[1:]), *(f"{k.arg}={say(k.value)}" for k in call.keywords if k.arg)]
    text = f"{say(called[0])}({', '.join(inner)})" if called else ""
    return ExamplePart("outcome", text, "raises", say(given[0]), line)


def _of_test(test: ast.expr, line: int, say: Say) -> ExamplePart:
    match test:
        case ast.Compare(ops=[sign], comparators=[right]) if type(sign) in _SIGNS:
            return _shown(test.left, _SIGNS[type(sign)], right, line, say)
        case ast.Compare(ops=[ast.In() | ast.NotIn() as sign], comparators=[right]):
            how = "has" if isinstance(sign, ast.In) else "does not have"
            return ExamplePart("outcome", say(right), how, say(test.left), line)
        case ast.UnaryOp(op=ast.Not(), operand=inner):
            return ExamplePart("outcome", say(inner), "is", "False", line)
        case ast.Call(func=ast.Name(id="isinstance"), args=[value, type_]):
            return ExamplePart("outcome", say(value), "is a", say(type_), line)
    return ExamplePart("outcome", say(test), "holds", line=line)


def _shown(left: ast.expr, how: str, right: ast.expr, line: int, say: Say) -> ExamplePart:
    """Two values: one that is written out is what comes out, whichever side it stands on."""
    if _is_written_out(left) and not _is_written_out(right):
        left, right, how = right, left, _SWAPPED.get(how, how)
    return ExamplePart("outcome", say(left), how, say(right), line)


def _is_written_out(node: ast.expr) -> bool:
    return not any(isinstance(each, ast.Name) for each in ast.walk(node))


def _name(call: ast.Call) -> str:
    return (
        call.func.attr
        if isinstance(call.func, ast.Attribute)
        else call.func.id
        if isinstance(call.func, ast.Name)
        else ""
    )
