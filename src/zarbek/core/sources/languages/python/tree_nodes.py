"""The nodes of a syntax tree of Python, faster than ``ast.walk`` and without those that stand for a word or a sign."""

from __future__ import annotations

import ast
from collections.abc import Sequence

#: Fields that hold no nodes, or those of signs (``+``) and of how a name is used.
_PLAIN = frozenset({"ctx", "op", "ops", "id", "attr", "kind", "type_comment", "level", "module", "simple", "is_async",
                    "conversion", "asname", "tag", "rest"})  # fmt: skip
_WITHOUT = (ast.Name, ast.Constant, ast.alias, ast.Global, ast.Nonlocal)
_FIELDS: dict[type[ast.AST], tuple[str, ...]] = {}


def nodes_of(body: Sequence[ast.AST]) -> list[ast.AST]:
    """Some nodes and all that stand in them, outer ones first."""
    found = list(body)
    for node in found:  # It grows meanwhile.
        kind = type(node)
        fields = _FIELDS.get(kind)
        if fields is None:
            fields = _FIELDS[kind] = _fields_of(kind)
        for name in fields:
            value = getattr(node, name, None)
            if type(value) is list:
                found += [each for each in value if isinstance(each, ast.AST)]
            elif isinstance(value, ast.AST):
                found.append(value)
    return found


def _fields_of(kind: type[ast.AST]) -> tuple[str, ...]:
    return () if issubclass(kind, _WITHOUT) else tuple(name for name in kind._fields if name not in _PLAIN)
