"""Names that a module makes at run time, as far as its text tells. Sources: Python reference, 3.3.2.1
(``__getattr__`` of modules, PEP 562) and 3.3.2.2 (descriptors)."""

from __future__ import annotations

import ast
from collections.abc import Iterator

from zarbek.core.sources.languages.python.imports import read_import_from

Names = list[tuple[str, str]]


def lazy_names(body: list[ast.stmt], module: str, is_package: bool) -> Names:
    """(local name, absolute target) of what a module's ``__getattr__`` brings: what it imports itself, and
    what literal tables of the module tell it to import."""
    found: Names = []
    is_lazy = False
    for node in body:
        if isinstance(node, ast.FunctionDef) and node.name == "__getattr__":
            is_lazy = True
            for inner in ast.walk(node):
                if isinstance(inner, ast.ImportFrom):
                    found += read_import_from(inner, module, is_package, {}, [])
        elif isinstance(node, ast.Assign) and any("__getattr__" in _names_of(t) for t in node.targets):
            is_lazy = True
    known = {name for name, _ in found}
    # What makes the module anew is told what it is to have.
    told = [n for n in body if (is_lazy and isinstance(n, ast.Assign | ast.AnnAssign)) or _takes_module(n)]
    return found + [pair for pair in _tables(told, module, is_package) if pair[0] not in known]


def names_answered(hook: ast.FunctionDef | ast.AsyncFunctionDef) -> list[str] | None:
    """The names to which a ``__getattr__`` answers, where its text does nothing with the name that it is asked
    for but compare it with literals and tell of it; None where it may answer to any."""
    if not hook.args.args:
        return None
    asked = hook.args.args[-1].arg
    names: set[str] = set()
    told: set[int] = set()
    for node in ast.walk(hook):
        match node:
            case ast.Compare():
                sides = [node.left, *node.comparators]
                if compared := _compared(sides, asked):
                    names.update(compared)
                    told.update(map(id, sides))
            case ast.Match(subject=ast.Name() as subject):
                names.update(text for case in node.cases for text in _matched(case.pattern))
                told.add(id(subject))
            case ast.Raise() | ast.JoinedStr():
                told.update(map(id, ast.walk(node)))
    uses = (n for n in ast.walk(hook) if isinstance(n, ast.Name) and n.id == asked)
    return sorted(names) if names and all(id(use) in told for use in uses) else None


def _compared(sides: list[ast.expr], asked: str) -> list[str]:
    """The literals that a name is compared with; empty where it is compared with anything else."""
    others = [s for s in sides if not (isinstance(s, ast.Name) and s.id == asked)]
    if len(others) == len(sides) or not all(_texts(other) for other in others):
        return []
    return [text for other in others for text in _texts(other)]


def _matched(pattern: ast.pattern) -> Iterator[str]:
    for part in ast.walk(pattern):
        match part:
            case ast.MatchValue(value=ast.Constant(value=str() as text)):
                yield text


def _takes_module(node: ast.stmt) -> bool:
    """Whether a statement calls something with the module's own name and a literal table."""
    call = node.value if isinstance(node, ast.Assign | ast.Expr) else None
    if not isinstance(call, ast.Call):
        return False
    given = [*call.args, *(k.value for k in call.keywords)]
    is_named = any(isinstance(a, ast.Name) and a.id == "__name__" for a in given)
    return is_named and any(isinstance(a, ast.Dict) for a in given)


def _names_of(target: ast.expr) -> Iterator[str]:
    for node in target.elts if isinstance(target, ast.Tuple) else [target]:
        if isinstance(node, ast.Name):
            yield node.id


def _tables(statements: list[ast.stmt], module: str, is_package: bool) -> Iterator[tuple[str, str]]:
    package = module if is_package else module.rpartition(".")[0]
    for node in statements:
        for table in ast.walk(node):
            if isinstance(table, ast.Dict):
                yield from _entries(table, package)


def _entries(table: ast.Dict, package: str) -> Iterator[tuple[str, str]]:
    """``{name: module}``, ``{name: module.name}``, ``{name: (module, name)}`` and ``{module: [name, …]}``."""
    for key, value in zip(table.keys, table.values, strict=True):
        if not isinstance(key, ast.Constant) or not isinstance(key.value, str):
            continue
        texts = _texts(value)
        if isinstance(value, ast.Constant) and texts:
            target = _absolute(texts[0], package)
            yield key.value, target if target.endswith(f".{key.value}") else f"{target}.{key.value}"
        elif isinstance(value, ast.Tuple) and len(texts) == 2 and len(value.elts) == 2 and "." in texts[0]:
            yield key.value, f"{_absolute(texts[0], package)}.{texts[1]}"
        else:
            for name in texts:
                yield name, f"{_absolute(key.value, package, is_below=True)}.{name}"


def _texts(node: ast.expr) -> list[str]:
    nodes = node.elts if isinstance(node, ast.List | ast.Tuple | ast.Set) else [node]
    return [
        n.value for n in nodes
        if isinstance(n, ast.Constant) and isinstance(n.value, str) and n.value.replace(".", "").isidentifier()
    ]  # fmt: skip


def _absolute(name: str, package: str, *, is_below: bool = False) -> str:
    if name.startswith("."):
        base = package
        for _ in range(len(name) - len(name.lstrip(".")) - 1):
            base = base.rpartition(".")[0]
        return f"{base}.{name.lstrip('.')}".rstrip(".")
    is_whole = name.partition(".")[0] == package.partition(".")[0] and not is_below
    return name if is_whole or name.startswith(f"{package}.") else f"{package}.{name}"


def types_given(call: ast.expr) -> list[str]:
    """The types that a call is given by name: what it makes may have their members."""
    if not isinstance(call, ast.Call):
        return []
    arguments = [*call.args, *(k.value for k in call.keywords)]
    return [name for a in arguments if (name := dotted(a)) and name.rpartition(".")[2][:1].isupper()
            and not name.isupper()]  # fmt: skip


def extended_types(body: list[ast.stmt]) -> set[str]:
    """Names of the types that the module gives members when it runs: those handed to a call that is a
    statement, as in ``setattr(Table, …)``, ``add_members(Table)`` and ``Table._add_members()``."""
    found: set[str] = set()
    for node in body:
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
            found.update(types_given(node.value))
            owner, _, _ = dotted(node.value.func).rpartition(".")
            found.add(owner)
        elif isinstance(node, ast.For):
            found |= extended_types(node.body)
        elif isinstance(node, ast.Assign):
            found.update(dotted(t).rpartition(".")[0] for t in node.targets)
    return found - {""}


def dotted(node: ast.expr | None) -> str:
    """``a.b.c`` of a plain reference, else empty."""
    parts: list[str] = []
    while isinstance(node, ast.Attribute):
        parts.append(node.attr)
        node = node.value
    if not isinstance(node, ast.Name) or node.id in ("None", "True", "False"):
        return ""
    return ".".join([node.id, *reversed(parts)])
