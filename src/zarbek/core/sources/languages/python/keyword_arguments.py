"""What becomes of the further keywords of a function. Source: Python reference, 8.7 (``**identifier``)."""

from __future__ import annotations

import ast

from zarbek.core.sources.languages.python.imports import read_import, read_import_from
from zarbek.core.sources.languages.python.runtime_names import dotted
from zarbek.core.sources.languages.reading import Keywords

_ASKING = frozenset({"get", "pop", "setdefault"})
_SUPER = "super()"


def keywords_of(node: ast.FunctionDef | ast.AsyncFunctionDef, module: str, is_package: bool) -> Keywords | None:
    """What a function looks at itself of its further keywords, and what it hands all of them to; None where it has
    none, does nothing with them, or something that could take any."""
    if node.args.kwarg is None:
        return None
    name = node.args.kwarg.arg
    taken: set[str] = set()
    passed: list[str] = []
    told: set[int] = set()
    imports: dict[str, str] = {}
    body = [inner for statement in node.body for inner in ast.walk(statement)]
    for part in body:
        if isinstance(part, ast.Call):
            handed = [k.value for k in part.keywords if k.arg is None and _is(k.value, name)]
            callee = _callee(part.func)
            if handed and callee:
                passed.append(callee)
                told.update(map(id, handed))
            asked = _asked(part, name)
            if asked:
                taken.add(asked)
                told.add(id(part.func.value))  # type: ignore[attr-defined]
        elif isinstance(part, ast.Subscript) and _is(part.value, name) and (key := _literal(part.slice)):
            taken.add(key)
            told.add(id(part.value))
        elif isinstance(part, ast.Compare) and (key := _literal(part.left)):
            if any(_is(side, name) for side in part.comparators):
                taken.add(key)
                told.update(map(id, part.comparators))
        elif isinstance(part, ast.Raise):
            told.update(map(id, ast.walk(part)))
        elif isinstance(part, ast.Import):
            read_import(part, imports)
        elif isinstance(part, ast.ImportFrom):
            read_import_from(part, module, is_package, imports, [])
        elif isinstance(part, ast.If | ast.IfExp):
            told.add(id(part.test))  # Whether there are any.
    is_seen = any(isinstance(n, ast.Call) and dotted(n.func) in ("locals", "vars") for n in body)
    if is_seen or not (taken or passed) or any(_is(n, name) and id(n) not in told for n in body):
        return None
    return Keywords(sorted(taken), list(dict.fromkeys(passed)), imports)


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
