"""Whether a value is what a schema admits, and where it is not, in words.

Schemas are in the normal form of ``model.interface``. The checking itself is the package
``jsonschema-rs`` (JSON Schema 2020-12).
"""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from itertools import islice
from typing import Any, Literal, NamedTuple

import jsonschema_rs
import msgspec

from zarbek.core.model.interface import Schema

Direction = Literal["request", "response", ""]
#: Path of a symbol to its schema, or None.
Find = Callable[[str], Schema | None]
_SHOWN_CHARS = 60
MAX_FAULTS = 20

_LINEAR = jsonschema_rs.RegexOptions(size_limit=2**22, dfa_size_limit=2**22)
_STEPS = jsonschema_rs.FancyRegexOptions(backtrack_limit=100_000, size_limit=2**22, dfa_size_limit=2**22)


class SchemaMismatch(NamedTuple):
    """One place where a value is not what was expected. path: JSON Pointer of the place in the value."""

    path: str
    message: str


class SchemaError(ValueError):
    """A schema that cannot be used. ``str()`` says why."""


class SchemaSet:
    """Schemas that refer to one another, ready to check values; made once for a description.

    find: what a path that is not among the schemas stands for; what has no answer admits anything.
    """

    def __init__(self, schemas: Mapping[str, Schema], find: Find = lambda path: None) -> None:
        self._schemas, self._find = dict(schemas), find
        self._validators: dict[tuple[bytes, Direction], Any] = {}
        self._prepared: dict[tuple[str, Direction], tuple[Schema, list[str]]] = {}

    def misfits(self, value: Any, schema: Schema, direction: Direction = "") -> list[SchemaMismatch]:
        """Where a value does not fit, outermost first; empty where it does.

        direction: what is only read is not asked of requests, what is only written not of answers.
        Raises SchemaError for a schema that means nothing.
        """
        return misfits_of(self._validator(schema, direction), value)

    def _validator(self, schema: Schema, direction: Direction) -> Any:
        key = (msgspec.json.encode(schema, order="deterministic"), direction)
        if key not in self._validators:
            self._validators[key] = self._compiled(schema, direction)
        return self._validators[key]

    def _compiled(self, schema: Schema, direction: Direction) -> Any:
        refers: set[str] = set()
        root = self._prepare(schema, direction, refers)
        bundle: dict[str, Schema] = {}
        open_paths = sorted(refers)
        while open_paths:
            path = open_paths.pop()
            if _safe(path) not in bundle:
                bundle[_safe(path)], further = self._prepared_schema(path, direction)
                open_paths += further
        try:
            return compiled({**root, "$defs": bundle})
        except (ValueError, TypeError, jsonschema_rs.ReferencingError) as error:
            raise SchemaError(str(error).partition("\n")[0]) from error

    def _prepared_schema(self, path: str, direction: Direction) -> tuple[Schema, list[str]]:
        """A named schema as one direction sees it, with the paths that it refers to."""
        key = (path, direction)
        if key not in self._prepared:
            refers: set[str] = set()
            made = self._prepare(self._schema(path) or {}, direction, refers)
            self._prepared[key] = (made, sorted(refers))
        return self._prepared[key]

    def _schema(self, path: str) -> Schema | None:
        if path not in self._schemas:
            self._schemas[path] = self._find(path) or {}
        return self._schemas[path]

    def _prepare(self, schema: Any, direction: Direction, refers: set[str]) -> Any:
        """The schema with references within the bundle, as one direction sees it."""
        if isinstance(schema, list):
            return [self._prepare(s, direction, refers) for s in schema]
        if not isinstance(schema, dict):
            return schema
        made = {}
        for key, inner in schema.items():
            if key in ("examples", "default", "const", "enum", "discriminator", "xml", "externalDocs", "$id"):
                if key in ("const", "enum"):
                    made[key] = inner
                continue
            made[key] = self._prepare(inner, direction, refers)
        reference = made.get("$ref")
        if isinstance(reference, str):
            self._refer(made, reference, refers)
        if direction and isinstance(made.get("required"), list) and isinstance(schema.get("properties"), dict):
            one_way = "readOnly" if direction == "request" else "writeOnly"
            properties = schema["properties"]
            left = [n for n in made["required"] if isinstance(n, str) and not _is_marked(properties.get(n), one_way)]
            made["required"] = left
        return made

    def _refer(self, made: Schema, reference: str, refers: set[str]) -> None:
        if not reference.startswith("api:") or reference.startswith("api://"):
            del made["$ref"]  # Of another project: not known here, so anything.
            return
        path, _, part = reference[4:].partition("#")
        refers.add(path)
        made["$ref"] = f"#/$defs/{_safe(path)}{part}"


def compiled(schema: Schema) -> Any:
    """A validator whose patterns take time that grows with the text; those that look around or back,
    which only another engine knows, are held to a number of steps.

    Raises ValueError for a schema or pattern that is none.
    """
    try:
        return jsonschema_rs.Draft202012Validator(schema, validate_formats=True, pattern_options=_LINEAR)
    except ValueError:
        return jsonschema_rs.Draft202012Validator(schema, validate_formats=True, pattern_options=_STEPS)


def _is_marked(schema: Any, mark: str) -> bool:
    return isinstance(schema, dict) and schema.get(mark) is True


def misfits_of(validator: Any, value: Any) -> list[SchemaMismatch]:
    """What a validator of ``jsonschema-rs`` has against a value, in words."""
    try:
        if validator.is_valid(value):
            return []
        errors = list(islice(validator.iter_errors(value), MAX_FAULTS))
    except (ValueError, TypeError, OverflowError, jsonschema_rs.ReferencingError) as error:
        raise SchemaError(str(error)) from error
    return list({SchemaMismatch(_pointer(e.instance_path), _in_words(e, value)): None for e in map(_nearest, errors)})


def _safe(path: str) -> str:
    """A path as a JSON Pointer's part."""
    return "".join(c if c.isalnum() or c in "-_." else f"_{ord(c):x}_" for c in path)


def _pointer(path: list[str | int]) -> str:
    return "".join("/" + str(part).replace("~", "~0").replace("/", "~1") for part in path)


def _nearest(error: Any) -> Any:
    """Of several alternatives that all fail the fault of the one that comes nearest."""
    for _ in range(5):
        branches = getattr(error.kind, "context", None)
        if not branches:
            return error
        depth = len(error.instance_path)
        best = [min(branch, key=lambda e: len(e.instance_path)) for branch in branches if branch]
        best = [e for e in best if len(e.instance_path) > depth or _kind_name(e) != "Type"] or best
        if not best:
            return error
        if len(best) == 1:
            error = best[0]
            continue
        chosen = max(best, key=lambda e: len(e.instance_path))
        if len(chosen.instance_path) <= depth:
            return error
        error = chosen
    return error


def _kind_name(error: Any) -> str:
    return type(error.kind).__name__.rpartition("_")[2]


def _shown(value: Any) -> str:
    text = json.dumps(value, ensure_ascii=False, default=str)
    return text if len(text) <= _SHOWN_CHARS else text[: _SHOWN_CHARS - 1] + "…"


def _at(value: Any, path: list[str | int]) -> Any:
    for part in path:
        try:
            value = value[part]
        except (KeyError, IndexError, TypeError):
            return None
    return value


_TYPE_WORDS = {
    "string": "a text", "integer": "a whole number", "number": "a number", "boolean": "true or false",
    "object": "an object", "array": "a list", "null": "null",
}  # fmt: skip


def _in_words(error: Any, value: Any) -> str:
    kind = error.kind
    name = _kind_name(error)
    found = _shown(_at(value, error.instance_path))
    explain = _WORDS.get(name)
    if explain is None:
        return str(error.message)
    return explain(kind, found)


def _types(kind: Any) -> str:
    types = kind.types if isinstance(kind.types, list) else [kind.types]
    words = [_TYPE_WORDS.get(str(t), str(t)) for t in types]
    return " or ".join(words)


_WORDS: dict[str, Callable[[Any, str], str]] = {
    "Required": lambda kind, found: f"{kind.property} is missing",
    "Type": lambda kind, found: f"{_types(kind)} was expected; this is {found}",
    "Enum": lambda kind, found: f"one of {_shown(kind.options)} was expected; this is {found}",
    "Constant": lambda kind, found: f"{_shown(kind.expected_value)} was expected; this is {found}",
    "Minimum": lambda kind, found: f"at least {kind.limit} was expected; this is {found}",
    "Maximum": lambda kind, found: f"at most {kind.limit} was expected; this is {found}",
    "ExclusiveMinimum": lambda kind, found: f"more than {kind.limit} was expected; this is {found}",
    "ExclusiveMaximum": lambda kind, found: f"less than {kind.limit} was expected; this is {found}",
    "MinLength": lambda kind, found: f"at least {kind.limit} characters were expected; this is {found}",
    "MaxLength": lambda kind, found: f"at most {kind.limit} characters were expected; this is {found}",
    "MinItems": lambda kind, found: f"at least {kind.limit} items were expected; this is {found}",
    "MaxItems": lambda kind, found: f"at most {kind.limit} items were expected; this is {found}",
    "MultipleOf": lambda kind, found: f"a multiple of {kind.multiple_of} was expected; this is {found}",
    "Pattern": lambda kind, found: f"{found} does not match {kind.pattern}",
    "Format": lambda kind, found: f"{found} is no {kind.format}",
    "AdditionalProperties": lambda kind, found: f"{', '.join(kind.unexpected)} is not known here",
    "UnevaluatedProperties": lambda kind, found: f"{', '.join(kind.unexpected)} is not known here",
    "UniqueItems": lambda kind, found: f"the items of {found} are not all different",
    "OneOfNotValid": lambda kind, found: f"{found} fits none of the alternatives",
    "OneOfMultipleValid": lambda kind, found: f"{found} fits several alternatives where it must fit one",
    "AnyOf": lambda kind, found: f"{found} fits none of the alternatives",
    "FalseSchema": lambda kind, found: f"{found} must not be here",
    "Not": lambda kind, found: f"{found} must not be here",
}
