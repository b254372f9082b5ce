"""What the body of a function tells of what it gives."""

from __future__ import annotations

import ast
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from functools import cached_property

from zarbek.core.sources.languages.python.runtime_names import dotted

_YIELDS = frozenset({ast.Yield, ast.YieldFrom})
#: Statements with others in them that are run with the body they stand in.
_WITH_BODY = frozenset({ast.If, ast.For, ast.AsyncFor, ast.While, ast.With, ast.AsyncWith, ast.Try, ast.TryStar,
                        ast.ExceptHandler, ast.Match, ast.match_case})  # fmt: skip
_BODIES = ("body", "orelse", "finalbody", "handlers", "cases")
_Function = ast.FunctionDef | ast.AsyncFunctionDef


@dataclass(slots=True)
class FunctionBody:
    """statements: all that are run with it. given: what it returns; yielded: what it yields, by the outer expressions
    of its statements."""

    statements: list[ast.AST] = field(default_factory=list)
    given: list[ast.expr] = field(default_factory=list)
    yielded: list[ast.expr | None] = field(default_factory=list)

    @property
    def is_generator(self) -> bool:
        """Whether it yields."""
        return bool(self.yielded)


def read_body(node: _Function) -> FunctionBody:
    """Without what functions and classes in it hold."""
    body = FunctionBody(list(node.body))
    for statement in body.statements:  # It grows while it is gone through.
        value = getattr(statement, "value", None)
        if value is not None:
            if type(value) in _YIELDS:
                body.yielded.append(value.value if type(value) is ast.Yield else None)
            elif type(statement) is ast.Return:
                body.given.append(value)
        if type(statement) in _WITH_BODY:
            for name in _BODIES:
                body.statements += getattr(statement, name, ())
    return body


def made_type(node: _Function, body: FunctionBody) -> str:
    """The class, as written, that a function makes one of and gives, or yields if it is a generator; ``Self`` for the
    object itself. Empty where a declaration says what it gives, where that differs, and where it cannot be told."""
    given = body.yielded if body.yielded else body.given
    if not given or node.returns is not None:
        return ""
    making = _Making(node, body)
    return _one(making.of(value) for value in given if not _is_nothing(value))


def _is_nothing(value: ast.expr | None) -> bool:
    return isinstance(value, ast.Constant) and value.value is None


def _one(made: Iterable[str]) -> str:
    """What all are; empty where they differ."""
    found = set(made)
    return found.pop() if len(found) == 1 else ""


class _Making:
    """What the names of one function stand for, looked through once."""

    def __init__(self, node: _Function, body: FunctionBody) -> None:
        self._node, self._body = node, body

    def of(self, value: ast.expr | None) -> str:
        """The class that an expression makes one of; empty where that cannot be told."""
        if isinstance(value, ast.Name):
            return "Self" if value.id == "self" else self._variable(value.id)
        if not isinstance(value, ast.Call):
            return ""
        name = dotted(value.func)
        if name == "cls":
            return "Self"
        head, _, _ = name.partition(".")
        is_class = name.rpartition(".")[2][:1].isupper() and head not in ("self", "cls")
        return name if is_class and head not in self._local_names else ""

    def _variable(self, name: str) -> str:
        """What a variable is made of, where each assignment makes it of the same."""
        values = self._assigned.get(name)
        if values is None or name in self._local_names:
            return ""
        return _one("" if isinstance(v, ast.Name) else self.of(v) for v in values)

    @cached_property
    def _assigned(self) -> dict[str, list[ast.expr]]:
        found: dict[str, list[ast.expr]] = {}
        for statement in self._body.statements:
            if isinstance(statement, ast.Assign):
                for target in statement.targets:
                    if isinstance(target, ast.Name):
                        found.setdefault(target.id, []).append(statement.value)
        return found

    @cached_property
    def _local_names(self) -> set[str]:
        """What stands for something else here than outside, but for what a value is assigned to."""
        args = self._node.args
        own = [*args.posonlyargs, *args.args, *args.kwonlyargs, args.vararg, args.kwarg]
        return {a.arg for a in own if a is not None} | {n for s in self._body.statements for n in _bound(s)}


def _bound(statement: ast.AST) -> Iterator[str]:
    match statement:
        case ast.FunctionDef(name=name) | ast.AsyncFunctionDef(name=name) | ast.ClassDef(name=name):
            yield name
        case ast.Import(names=names) | ast.ImportFrom(names=names):
            yield from ((a.asname or a.name).partition(".")[0] for a in names)
        case ast.For(target=target) | ast.AsyncFor(target=target):
            yield from _names_in(target)
        case ast.With(items=items) | ast.AsyncWith(items=items):
            yield from (n for i in items if i.optional_vars is not None for n in _names_in(i.optional_vars))
        case ast.AnnAssign(target=target):
            yield from _names_in(target)
        case ast.Assign(targets=targets):
            yield from (n for t in targets if not isinstance(t, ast.Name) for n in _names_in(t))


def _names_in(target: ast.expr) -> Iterator[str]:
    return (n.id for n in ast.walk(target) if isinstance(n, ast.Name) and isinstance(n.ctx, ast.Store))
