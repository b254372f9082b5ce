"""The names by which people look for operations and schemas, besides their own."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from zarbek.core.model.interface import Operation, Schema
from zarbek.core.model.symbol import Symbol

#: Deeper properties are found with the schema that they are of.
_MAX_DEPTH = 3
_MAX_NAMES = 400


def names_of(symbol: Symbol) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """(names, addresses): method, path, parameters, statuses and properties; all of them short."""
    interface = symbol.interface
    if interface is None:
        return (), ()
    names: dict[str, None] = {}
    addresses: tuple[str, ...] = ()
    if interface.operation is not None:
        operation = interface.operation
        addresses = (operation.path,)
        names.update(dict.fromkeys(_of_operation(operation)))
    if interface.schema is not None:
        names.update(dict.fromkeys(_properties(interface.schema, 0)))
    return tuple(n for n in list(names)[:_MAX_NAMES] if n), addresses


def _of_operation(operation: Operation) -> Iterator[str]:
    yield from (operation.method, f"{operation.method} {operation.path}", operation.id)
    yield from operation.tags
    yield from (slot.name for slot in operation.parameters)
    yield from (answer.status for answer in operation.answers)
    for media in operation.body.media if operation.body else ():
        yield from _properties(media.schema, 0)
    for answer in operation.answers:
        for media in answer.media:
            yield from _properties(media.schema, 0)


def _properties(schema: Schema, depth: int) -> Iterator[str]:
    if depth > _MAX_DEPTH:
        return
    for name, inner in (schema.get("properties") or {}).items():
        yield str(name)
        yield from _inner(inner, depth)
    for word in ("allOf", "oneOf", "anyOf"):
        for inner in schema.get(word) or ():
            yield from _inner(inner, depth)
    yield from _inner(schema.get("items"), depth)


def _inner(schema: Any, depth: int) -> Iterator[str]:
    if isinstance(schema, dict):
        yield from _properties(schema, depth + 1)
