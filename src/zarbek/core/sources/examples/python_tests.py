"""Tests of Python: functions and classes as unittest and pytest find them.

Sources: The Python Standard Library, "unittest"; pytest's documentation, "Conventions for Python test discovery".
"""

from __future__ import annotations

import ast
import re
from collections.abc import Callable, Iterator

from msgspec.structs import replace

from zarbek.core.model.example import CALLED, EXERCISED, ExamplePart, PartKind
from zarbek.core.model.given_types import EACH, ENTERED, GIVEN, name_by_type
from zarbek.core.model.mention import Mention
from zarbek.core.sources.comments.python import read_docstring
from zarbek.core.sources.examples.found_test import FoundTest, find_mark, joined_parts, lines_between
from zarbek.core.sources.examples.python_outcomes import outcome_of, raising
from zarbek.core.sources.languages.python.tree_nodes import nodes_of
from zarbek.core.sources.markup.inline import MentionSink

_Function = ast.FunctionDef | ast.AsyncFunctionDef
_SETTING = ("setUp", "asyncSetUp", "setup_method", "setUpClass", "setup_class", "setup")
_OF_SELF = re.compile(r"\bself\.(\w+)")
#: Nodes that say what a name stands for.
_TELLING = frozenset({ast.ImportFrom, ast.Import, ast.Assign, ast.AnnAssign, ast.withitem, ast.For, ast.AsyncFor,
                      ast.comprehension})  # fmt: skip
#: Functions of the language that give what they are given, one by one.
_SAME_ELEMENTS = frozenset({"iter", "list", "set", "tuple", "frozenset", "sorted", "reversed"})
_MARKS = ("example", "mark.example", "pytest.mark.example")


def read_python_tests(text: str, tree: ast.Module, is_shown: Callable[[list[str]], bool]) -> list[FoundTest]:
    """The tests of one module that are examples, in order. is_shown: whether one of such names is, without a mark."""
    return [test for test in _Reader(text, tree, is_shown).read() if test is not None]


class _Reader:
    def __init__(self, text: str, tree: ast.Module, is_shown: Callable[[list[str]], bool]) -> None:
        self._tree, self._is_shown = tree, is_shown
        self._lines = text.split("\n")
        self._fields: frozenset[str] = frozenset()
        self._fixtures: dict[str, _Function] = {}
        self._nodes: dict[_Function, list[ast.AST]] = {}

    def read(self) -> Iterator[FoundTest | None]:
        self._fixtures = {f.name: f for f in _functions(self._tree) if any(_last(d) == "fixture" for d in _words(f))}
        for node in self._tree.body:
            if isinstance(node, _Function) and node.name.startswith("test"):
                yield self._test([node.name], node, "pytest", [], is_marked=False)
            elif isinstance(node, ast.ClassDef):
                yield from self._of_class(node)

    def _of_class(self, node: ast.ClassDef) -> Iterator[FoundTest | None]:
        bases = [_dotted(base) for base in node.bases]
        is_case = any(base.endswith(("TestCase", "Test", "Tests")) for base in bases)
        if not is_case and not node.name.startswith("Test"):
            return
        setting = [f for f in _functions(node) if f.name in _SETTING]
        is_marked, framework = _is_marked(node), "unittest" if is_case else "pytest"
        for method in _functions(node):
            if method.name.startswith("test"):
                yield self._test([node.name, method.name], method, framework, setting, is_marked=is_marked)

    def _test(
        self, names: list[str], node: _Function, framework: str, setting: list[_Function], *, is_marked: bool
    ) -> FoundTest | None:
        """is_marked: whether what holds it says that it is an example. None for one that is none: of most files most
        tests are not."""
        raw = ast.get_docstring(node, clean=False) or ""
        mark = find_mark(raw)
        if not (is_marked or mark.is_example or _is_marked(node) or self._is_shown(names)):
            return None
        found = FoundTest(names, framework, node.lineno, node.end_lineno or node.lineno, mark.title)
        if raw:
            sink = MentionSink(self._lines)
            found.doc = read_docstring(mark.text, node.body[0].lineno, sink)
            found.mentions = sink.mentions
        self._read_code(node, setting, found)
        return found

    def _read_code(self, node: _Function, setting: list[_Function], found: FoundTest) -> None:
        taken = [a.arg for a in node.args.args if a.arg in self._fixtures]
        before = [*setting, *(self._fixtures[name] for name in taken)]
        types, nodes = _Types(), nodes_of(_own(node.body))
        for function in before:
            types.read(function, self._nodes_of(function))
            given = _returned(function, types)
            if function.name in taken and given:
                types.known[function.name] = given
        types.read(node, nodes)
        self._fields = frozenset(name[5:] for name in types.local if name.startswith("self."))
        found.setting = joined_parts(self._before(f) for f in before if _own(f.body))
        found.parts = joined_parts(self._parts(_own(node.body)))
        found.mentions += types.calls(nodes, self._lines)

    def _nodes_of(self, function: _Function) -> list[ast.AST]:
        """Of what many tests have before them, looked through once."""
        if function not in self._nodes:
            self._nodes[function] = nodes_of(function.body)
        return self._nodes[function]

    def _before(self, function: _Function) -> ExamplePart:
        """What a method sets up; a fixture as a whole, for its name says what it gives."""
        if function.name not in self._fixtures:
            return self._plain(_own(function.body), "set-up")
        text = lines_between(self._lines, function.lineno, function.end_lineno or function.lineno)
        return ExamplePart("set-up", text, line=function.lineno)

    def _plain(self, body: list[ast.stmt], kind: PartKind) -> ExamplePart:
        first, last = self._begin(body[0]), body[-1].end_lineno or body[-1].lineno
        return ExamplePart(kind, self._without_self(lines_between(self._lines, first, last)), line=first)

    def _say(self, node: ast.expr) -> str:
        """An expression as it is written where it is on one line, else set anew."""
        if node.lineno != node.end_lineno:
            return self._without_self(ast.unparse(node))
        line = self._lines[node.lineno - 1]
        begin, end = _columns(line, node.col_offset), _columns(line, node.end_col_offset or 0)
        return self._without_self(line[begin:end])

    def _without_self(self, text: str) -> str:
        """Fields that the test sets itself by their names alone."""
        return _OF_SELF.sub(lambda m: m[1] if m[1] in self._fields else m[0], text)

    def _begin(self, node: ast.stmt) -> int:
        """The first line of a statement, with the comments right above it."""
        line = node.lineno
        while line > 1 and self._lines[line - 2].strip().startswith("#"):
            line -= 1
        return line

    def _parts(self, body: list[ast.stmt]) -> Iterator[ExamplePart]:
        for statement in body:
            if isinstance(statement, ast.With | ast.AsyncWith):
                error = raising(statement, self._say)
                if error is not None:
                    inside = self._plain(statement.body, "step")
                    written = lines_between(self._lines, statement.lineno, statement.end_lineno or statement.lineno)
                    yield ExamplePart("outcome", inside.text, "raises", error, inside.line, written)
                    continue
                if any(_last(_dotted(i.context_expr)) == "subTest" for i in statement.items):
                    yield from self._parts(statement.body)
                    continue
            shown = outcome_of(statement, self._say)
            if shown is None:
                yield self._plain([statement], "step")
                continue
            if (first := self._begin(statement)) < statement.lineno:
                yield ExamplePart("step", lines_between(self._lines, first, statement.lineno - 1), line=first)
            written = lines_between(self._lines, statement.lineno, statement.end_lineno or statement.lineno)
            yield replace(shown, written=written)


class _Types:
    """What the names of a test stand for: classes that they are made of, as written."""

    def __init__(self) -> None:
        self.known: dict[str, str] = {}
        self.local: set[str] = {"self", "cls"}

    def read(self, function: _Function, nodes: list[ast.AST]) -> None:
        """nodes: all that stand in it."""
        arguments = function.args
        for argument in [*arguments.posonlyargs, *arguments.args, *arguments.kwonlyargs]:
            self.local.add(argument.arg)
            if argument.annotation is not None and (name := _dotted(argument.annotation)):
                self.known.setdefault(argument.arg, name)
        for node in filter(_tells, nodes):
            match node:
                case ast.ImportFrom(module=str(module), level=0):
                    self.known |= {a.asname or a.name: f"{module}.{a.name}" for a in node.names}
                case ast.Import():
                    self.known |= {a.asname: a.name for a in node.names if a.asname}
                case ast.Assign(targets=[target]):
                    self._set(target, self._made(node.value))
                case ast.AnnAssign():
                    self._set(node.target, _dotted(node.annotation))
                case ast.withitem(optional_vars=target) if target is not None:
                    self._set(target, name_by_type(self.name_of(node.context_expr), ENTERED))
                case ast.For() | ast.AsyncFor() | ast.comprehension():
                    self._set(node.target, self._each(node.iter))

    def _set(self, target: ast.expr, made: str) -> None:
        for each in target.elts if isinstance(target, ast.Tuple | ast.List) else [target]:
            name = _dotted(each)
            if not name:
                continue
            self.local.add(name)
            if made and not isinstance(target, ast.Tuple | ast.List):
                self.known[name] = made

    def _made(self, value: ast.expr) -> str:
        """The class that a value is made of, or the function that gives it."""
        value = value.value if isinstance(value, ast.Await) else value
        if not isinstance(value, ast.Call):
            return ""
        if _dotted(value.func) in ("next", "anext") and value.args:
            return self._each(value.args[0])
        name = self.name_of(value.func)
        return name if not name or _last(name)[:1].isupper() else f"{name}.{GIVEN}"

    def name_of(self, node: ast.expr) -> str:
        """What an expression names, by what its scope knows; empty where that cannot be told."""
        if isinstance(node, ast.Name):
            return self.known.get(node.id, "" if node.id in self.local else node.id)
        if isinstance(node, ast.Attribute):
            whole = self.known.get(_dotted(node))
            if whole:
                return whole
            of = self.name_of(node.value)
            return f"{of}.{node.attr}" if of else ""
        if isinstance(node, ast.Subscript) and not isinstance(node.slice, ast.Slice):
            return self._each(node.value)
        return self._made(node)

    def _each(self, node: ast.expr) -> str:
        """What each of several is that an expression stands for."""
        if isinstance(node, ast.Call) and node.args and _dotted(node.func) in _SAME_ELEMENTS:
            return self._each(node.args[0])
        if isinstance(node, ast.List | ast.Tuple | ast.Set) and node.elts:
            return self._made(node.elts[0])
        return name_by_type(self.name_of(node), EACH)

    def calls(self, nodes: list[ast.AST], lines: list[str]) -> list[Mention]:
        """Of a test, once for each line."""
        found: dict[tuple[str, int], Mention] = {}
        for node in nodes:
            if isinstance(node, ast.Call) and (name := self.name_of(node.func)):
                line, column = _place(node.func, lines)
                text = _last(_dotted(node.func)) or _last(name)
                found.setdefault((name, line), Mention(text, name, "code", EXERCISED, line, column, CALLED))
        return sorted(found.values(), key=lambda m: (m.line, m.column))


def _place(node: ast.expr, lines: list[str]) -> tuple[int, int]:
    """The line, and the column in characters, of the last name of an expression."""
    line = node.end_lineno or node.lineno
    end = _columns(lines[line - 1], node.end_col_offset or 0) if line <= len(lines) else 0
    name = node.attr if isinstance(node, ast.Attribute) else node.id if isinstance(node, ast.Name) else ""
    return line, max(end - len(name), 0) + 1


def _columns(line: str, offset: int) -> int:
    """Characters of a line before an offset in bytes, as ``ast`` counts them."""
    return offset if line.isascii() else len(line.encode()[:offset].decode(errors="replace"))


def _returned(function: _Function, types: _Types) -> str:
    """The class of what a fixture gives."""
    if function.returns is not None and not isinstance(function.returns, ast.Subscript):
        return _dotted(function.returns)
    for node in ast.walk(function):
        if isinstance(node, ast.Return | ast.Yield) and node.value is not None:
            return types.name_of(node.value)
    return ""


def _tells(node: ast.AST) -> bool:
    return type(node) in _TELLING


def _is_marked(node: _Function | ast.ClassDef) -> bool:
    return any(word in _MARKS for word in _words(node))


def _functions(node: ast.Module | ast.ClassDef) -> list[_Function]:
    return [child for child in node.body if isinstance(child, _Function)]


def _words(node: _Function | ast.ClassDef) -> list[str]:
    return [_dotted(d.func if isinstance(d, ast.Call) else d) for d in node.decorator_list]


def _own(body: list[ast.stmt]) -> list[ast.stmt]:
    """Statements without the documentation before them."""
    is_text = body and isinstance(body[0], ast.Expr) and isinstance(body[0].value, ast.Constant)
    return body[1:] if is_text else body


def _dotted(node: ast.expr) -> str:
    after = ""
    while True:
        if isinstance(node, ast.Name):
            return node.id + after
        if isinstance(node, ast.Attribute):
            after = f".{node.attr}{after}"
            node = node.value
        elif isinstance(node, ast.Call):
            node = node.func
        elif isinstance(node, ast.Constant) and isinstance(node.value, str):
            return node.value + after if node.value.replace(".", "").isidentifier() else ""
        else:
            return ""


def _last(name: str) -> str:
    return name.rpartition(".")[2]
