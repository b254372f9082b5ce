"""What becomes of the further keywords of a function. Source: Python reference, 8.7 (``**identifier``)."""

from __future__ import annotations

import ast

from zarbek.core.sources.languages.python.imports import read_import, read_import_from
from zarbek.core.sources.languages.python.runtime_names import dotted
from zarbek.core.sources.languages.python.tree_nodes import nodes_of
from zarbek.core.sources.languages.reading import Keywords

_ASKING = frozenset({"get", "pop", "setdefault"})
_SUPER = "super()"
#: Nodes that say what becomes of a name.
_TOLD_BY = frozenset({ast.Call, ast.Subscript, ast.Compare, ast.Raise, ast.Import, ast.ImportFrom, ast.If, ast.IfExp})


def keywords_of(node: ast.FunctionDef | ast.AsyncFunctionDef, module: str, is_package: bool) -> Keywords | None:
    """What a function looks at itself of its further keywords, and what it hands all of them to; None where it has
    none, does nothing with them, or something that could take any."""
    if node.args.kwarg is None:
        return None
    uses = _Uses(node.args.kwarg.arg, module, is_package)
    body = [inner for statement in node.body for inner in nodes_of([statement])]
    for part in body:
        if type(part) in _TOLD_BY:
            uses.look_at(part)
    is_open = any(_is(n, uses.name) and id(n) not in uses.told for n in body)
    if uses.are_seen or is_open or not (uses.taken or uses.passed):
        return None
    return Keywords(sorted(uses.taken), list(dict.fromkeys(uses.passed)), uses.imports)


class _Uses:
    """What a body does with its further keywords. told: nodes of their name of which it is known what they do.
    are_seen: whether it asks for all of its names, theirs too."""

    def __init__(self, name: str, module: str, is_package: bool) -> None:
        self.name, self.module, self.is_package = name, module, is_package
        self.taken: set[str] = set()
        self.passed: list[str] = []
        self.told: set[int] = set()
        self.are_seen = False
        self.imports: dict[str, str] = {}

    def look_at(self, part: ast.AST) -> None:
        match part:
            case ast.Call():
                self._call(part)
            case ast.Subscript(value=value, slice=index) if _is(value, self.name) and (key := _literal(index)):
                self._take(key, [value])
            case ast.Compare(left=left, comparators=sides) if key := _literal(left):
                if any(_is(side, self.name) for side in sides):
                    self._take(key, sides)
            case ast.Raise():
                self.told.update(map(id, ast.walk(part)))
            case ast.Import():
                read_import(part, self.imports)
            case ast.ImportFrom():
                read_import_from(part, self.module, self.is_package, self.imports, [])
            case ast.If(test=test) | ast.IfExp(test=test):
                self.told.add(id(test))  # Whether there are any.

    def _call(self, call: ast.Call) -> None:
        if isinstance(call.func, ast.Name) and call.func.id in ("locals", "vars"):
            self.are_seen = True
        handed = [k.value for k in call.keywords if k.arg is None and _is(k.value, self.name)]
        if handed and (callee := _callee(call.func)):
            self.passed.append(callee)
            self.told.update(map(id, handed))
        asked = _asked(call, self.name)
        if asked and isinstance(call.func, ast.Attribute):
            self._take(asked, [call.func.value])

    def _take(self, key: str, nodes: list[ast.expr]) -> None:
        self.taken.add(key)
        self.told.update(map(id, nodes))


def _is(node: ast.AST, name: str) -> bool:
    return isinstance(node, ast.Name) and node.id == name


def _literal(node: ast.expr) -> str:
    return node.value if isinstance(node, ast.Constant) and isinstance(node.value, str) else ""


def _asked(call: ast.Call, name: str) -> str:
    """The keyword that ``options.get("name")`` looks at, or empty."""
    function = call.func
    if isinstance(function, ast.Attribute) and function.attr in _ASKING and _is(function.value, name) and call.args:
        return _literal(call.args[0])
    return ""


def _callee(node: ast.expr) -> str:
    """What is called, as written; empty for what no name leads to."""
    if isinstance(node, ast.Attribute) and isinstance(node.value, ast.Call):
        return f"{_SUPER}.{node.attr}" if dotted(node.value.func) == "super" else ""
    return dotted(node)
