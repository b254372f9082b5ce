"""Examples made from schemas, always the same for the same schema.

What is written goes first: examples, defaults, constants and choices. Where a schema says nothing more,
the value tells what it is. Formats: JSON Schema Validation 2020-12, section 7.3; OpenAPI format registry.
"""

from __future__ import annotations

import base64
import re
from collections.abc import Callable
from functools import lru_cache
from math import ceil, floor
from random import Random
from typing import Any

import rstr

from zarbek.core.jsonschema.validation import Direction, Find, compiled
from zarbek.core.model.interface import Schema

MAX_DEPTH = 6
#: Of one example.
MAX_VALUES = 1200
_FORMATS: dict[str, Any] = {
    "date-time": "2026-06-12T07:30:00Z", "date": "2026-06-12", "time": "07:30:00Z", "duration": "PT1H30M",
    "email": "ida@halmere.example", "idn-email": "ida@halmere.example", "hostname": "halmere.example",
    "idn-hostname": "halmere.example", "ipv4": "192.0.2.7", "ipv6": "2001:db8::7",
    "uri": "https://halmere.example/", "uri-reference": "/a/b", "iri": "https://halmere.example/", "url":
    "https://halmere.example/", "uri-template": "/a/{b}", "uuid": "7d4f8a6e-3c21-4b0e-9d57-1f2a6b8c9d01",
    "json-pointer": "/a/b", "relative-json-pointer": "1/a", "regex": "[a-z]+", "byte": "SGFsbWVyZQ==",
    "binary": "", "password": "secret",
}  # fmt: skip
_UNBOUNDED = re.compile(r"\{(\d+),\}")
_MAX_TEXT = 4000


def example_for(schema: Schema, find: Find, direction: Direction = "", most: int = MAX_VALUES) -> Any:
    """A value that fits a schema in the normal form.

    find: path of a symbol to its schema. direction: what is only read stays out of requests, what is
    only written out of answers. Optional parts are there, but for those that would repeat for ever.
    most: values in it, about; what is needed is there all the same.
    """
    for depth in range(MAX_DEPTH, 1, -1):
        try:
            return _Maker(find, direction, depth, most).make(schema, (), "")
        except _TooLarge:
            continue
    return _Maker(find, direction, 1, MAX_VALUES * 100).make(schema, (), "")


class _TooLarge(Exception):
    """More values than anybody reads; with less depth there are fewer."""


class _Maker:
    def __init__(self, find: Find, direction: Direction, depth: int, most: int) -> None:
        self.find, self.direction, self.depth, self.left = find, direction, depth, most

    def make(self, schema: Any, open_paths: tuple[str, ...], name: str) -> Any:
        self.left -= 1
        if self.left < 0:
            raise _TooLarge
        if not isinstance(schema, dict):
            return None
        written = _written(schema)
        if written is not _NONE:
            return written
        reference = schema.get("$ref")
        if isinstance(reference, str):
            found, path = self._follow(reference)
            if len(open_paths) > self.depth or open_paths.count(path) > 0:
                return self._closed(found)
            rest = {k: v for k, v in schema.items() if k != "$ref"}
            merged = _merged([found, rest]) if rest.get("properties") or rest.get("required") else found
            return self.make(merged, (*open_paths, path), name)
        return self._by_kind(self._flat(schema, open_paths), open_paths, name)

    def _follow(self, reference: str) -> tuple[Schema, str]:
        path, _, part = reference.removeprefix("api:").partition("#")
        found: Any = (self.find(path) if reference.startswith("api:") else None) or {}
        for step in part.split("/")[1:]:
            key = step.replace("~1", "/").replace("~0", "~")
            inner = (
                found.get(key)
                if isinstance(found, dict)
                else found[int(key)]
                if key.isascii() and key.isdigit()
                else None
            )
            found = inner if isinstance(inner, (dict, list)) else {}
        return (found if isinstance(found, dict) else {}), f"{path}#{part}"

    def _closed(self, schema: Schema) -> Any:
        """The smallest value of a schema that repeats itself."""
        kinds = _kinds(schema)
        return None if "null" in kinds else [] if "array" in kinds else {} if "object" in kinds or not kinds else ""

    def _flat(self, schema: Schema, open_paths: tuple[str, ...]) -> Schema:
        """One schema in place of ``allOf`` and of the first of several alternatives."""
        parts = [schema]
        for inner in schema.get("allOf") or ():
            parts.append(self._resolved(inner, open_paths))
        for word in ("oneOf", "anyOf"):
            choices = [c for c in schema.get(word) or () if isinstance(c, dict)]
            if choices:
                chosen = next((c for c in choices if _kinds(c) != {"null"}), choices[0])
                parts.append(self._resolved(chosen, open_paths))
        return _merged(parts) if len(parts) > 1 else schema

    def _resolved(self, schema: Any, open_paths: tuple[str, ...]) -> Schema:
        for _ in range(MAX_DEPTH):
            reference = schema.get("$ref") if isinstance(schema, dict) else None
            if not isinstance(reference, str):
                break
            schema = self._follow(reference)[0]
        return self._flat(schema, open_paths) if isinstance(schema, dict) and len(open_paths) < self.depth else {}

    def _by_kind(self, schema: Schema, open_paths: tuple[str, ...], name: str) -> Any:
        written = _written(schema)
        if written is not _NONE:
            return written
        kinds = _kinds(schema) - {"null"} or ({"null"} if "null" in _kinds(schema) else _implied_kinds(schema))
        if "object" in kinds:
            return self._object(schema, open_paths)
        if "array" in kinds:
            return self._list(schema, open_paths, name)
        for kind, make in _PLAIN:
            if kind in kinds:
                return make(schema, name)
        return None if kinds == {"null"} else _text(schema, name) if "pattern" in schema or "format" in schema else {}

    def _object(self, schema: Schema, open_paths: tuple[str, ...]) -> dict[str, Any]:
        needed = set(schema.get("required") or ())
        properties = schema.get("properties") or {}
        hidden = {"request": "readOnly", "response": "writeOnly"}.get(self.direction, "")
        made: dict[str, Any] = {}
        for name, inner in properties.items():
            if _is_shown(inner, hidden) and (name in needed or not self._repeats(inner, open_paths)):
                made[name] = self.make(inner, open_paths, name)
        extra = schema.get("additionalProperties")
        if isinstance(extra, dict) and extra and not made:
            made["key"] = self.make(extra, open_paths, "key")
        for name in needed - made.keys():
            if not hidden or name not in properties:
                made[name] = self.make(extra if isinstance(extra, dict) else {"type": "string"}, open_paths, name)
        return made

    def _repeats(self, schema: Schema, open_paths: tuple[str, ...]) -> bool:
        """Whether an optional part leads back into what is being made, or lies too deep to help."""
        reference = schema.get("$ref")
        if reference is None and isinstance(schema.get("items"), dict):
            reference = schema["items"].get("$ref")
        for word in ("oneOf", "anyOf", "allOf"):
            for inner in schema.get(word) or ():
                if reference is None and isinstance(inner, dict):
                    reference = inner.get("$ref")
        if not isinstance(reference, str):
            return len(open_paths) >= self.depth
        path, _, part = reference.removeprefix("api:").partition("#")
        return f"{path}#{part}" in open_paths or len(open_paths) >= self.depth - 2

    def _list(self, schema: Schema, open_paths: tuple[str, ...], name: str) -> list[Any]:
        first = [self.make(s, open_paths, name) for s in schema.get("prefixItems") or ()]
        inner = schema.get("items")
        least = max(int(schema.get("minItems") or 0), 0 if first or inner is False else 1)
        most = schema.get("maxItems")
        least = min(least, int(most)) if isinstance(most, int) else least
        if isinstance(inner, dict):
            while len(first) < min(least, 20):
                value = self.make(inner, open_paths, name)
                first.append(
                    _varied(value, len(first), inner) if schema.get("uniqueItems") and value in first else value
                )
        return first[: int(most)] if isinstance(most, int) else first


_NONE = object()


def _written(schema: Schema) -> Any:
    if "const" in schema:
        return schema["const"]
    examples = schema.get("examples")
    if isinstance(examples, list) and examples:
        return examples[0]
    if "default" in schema and schema["default"] is not None:
        return schema["default"]
    enum = schema.get("enum")
    if isinstance(enum, list) and enum:
        return next((v for v in enum if v is not None), enum[0])
    return _NONE


def _kinds(schema: Schema) -> set[str]:
    kind = schema.get("type")
    return set(map(str, kind)) if isinstance(kind, list) else {str(kind)} if kind else set()


def _merged(parts: list[Schema]) -> Schema:
    made: Schema = {}
    for part in parts:
        for key, value in part.items():
            if key in ("allOf", "oneOf", "anyOf"):
                continue
            if key == "properties" and isinstance(value, dict):
                made["properties"] = {**made.get("properties", {}), **value}
            elif key == "required" and isinstance(value, list):
                made["required"] = [*made.get("required", []), *value]
            else:
                made.setdefault(key, value)
    return made


def _varied(value: Any, index: int, schema: Schema) -> Any:
    enum = schema.get("enum")
    if isinstance(enum, list) and index < len(enum):
        return enum[index]
    if isinstance(value, bool) or value is None:
        return not value
    if isinstance(value, (int, float)):
        return value + index
    return f"{value}{index}" if isinstance(value, str) else value


def _boolean(_schema: Schema, _name: str) -> bool:
    return True


def _implied_kinds(schema: Schema) -> set[str]:
    """What a schema without a type is, by what it says of its parts."""
    if "properties" in schema or "additionalProperties" in schema:
        return {"object"}
    return {"array"} if "items" in schema else set()


def _is_shown(schema: Any, hidden: str) -> bool:
    """Whether a property can have a value, and callers see it. hidden: the mark of those that they do not see."""
    return isinstance(schema, dict) and not (hidden and schema.get(hidden) is True) and schema != {"not": {}}


def _integer(schema: Schema, _name: str) -> int:
    return int(_number({**schema, "multipleOf": schema.get("multipleOf") or 1}, ""))


def _number(schema: Schema, _name: str) -> float:
    step = _limit(schema, "multipleOf") or 0
    low, above = _limit(schema, "minimum"), _limit(schema, "exclusiveMinimum")
    high, below = _limit(schema, "maximum"), _limit(schema, "exclusiveMaximum")
    bottom, top = low if low is not None else above, high if high is not None else below
    if step:
        return _multiple(step, bottom, top, above, below)
    if low is not None:
        return low
    if above is not None:
        return above + 1 if top is None or above + 1 < top else (above + top) / 2
    if high is not None:
        return high
    return below - 1 if below is not None else 1.5


def _multiple(step: float, bottom: float | None, top: float | None, above: float | None, below: float | None) -> float:
    """The first multiple within the limits, of which above and below do not count themselves."""
    if bottom is not None:
        value = ceil(bottom / step) * step
        return value + step if above is not None and value <= above else value
    if top is not None and step >= top:
        value = floor(top / step) * step
        return value - step if below is not None and value >= below else value
    return step


def _limit(schema: Schema, word: str) -> float | None:
    value = schema.get(word)
    return value if isinstance(value, (int, float)) and not isinstance(value, bool) else None


def _text(schema: Schema, name: str) -> str:
    pattern = schema.get("pattern")
    if isinstance(pattern, str):
        found = _matching(pattern, int(schema.get("minLength") or 0))
        if found is not None:
            return found
    form = schema.get("format")
    value = str(_FORMATS.get(form, "")) if isinstance(form, str) else ""
    if schema.get("contentEncoding") == "base64":
        value = base64.b64encode(b"Halmere").decode()
    value = value or (name if name else "text")
    least = min(int(schema.get("minLength") or 0), _MAX_TEXT)
    most = schema.get("maxLength")
    if len(value) < least:
        value = (value + " ") * (least // (len(value) + 1) + 1)
        value = value[:least].rstrip().ljust(least, "x")
    return value[: int(most)] if isinstance(most, int) and form not in _FORMATS else value


@lru_cache(maxsize=1024)
def _matching(pattern: str, least: int) -> str | None:
    """A text of at least so many characters that matches, the same each time; None where none could be made."""
    for seed in range(8):
        maker = rstr.Rstr(Random(seed))
        try:
            bounded = _UNBOUNDED.sub(lambda m: f"{{{m[1]},{max(int(m[1]), 3) + 1}}}", pattern)
            inner = bounded.replace("*", "{0,3}") if "*" in bounded and "\\*" not in bounded else bounded
            inner = inner.replace("+", "{1,4}") if "+" in inner and "\\+" not in inner and "[+" not in inner else inner
            if _widest(inner) > _MAX_TEXT:
                return None
            made = str(maker.xeger(inner))
            if len(made) >= least and len(made) <= _MAX_TEXT and compiled({"pattern": pattern}).is_valid(made):
                return made
        except (re.error, OverflowError, ValueError, KeyError, IndexError, TypeError, RecursionError):
            return None
    return None


def _widest(pattern: str) -> int:
    """The longest text that a pattern fits. Raises re.error."""
    return int(re._parser.parse(pattern).getwidth()[1])  # type: ignore[attr-defined]


_PLAIN: tuple[tuple[str, Callable[[Schema, str], Any]], ...] = (
    ("string", _text), ("integer", _integer), ("number", _number), ("boolean", _boolean),
)  # fmt: skip
