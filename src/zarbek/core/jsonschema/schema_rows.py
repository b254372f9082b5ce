"""A schema as rows to read: names, types, limits in words, what holds what."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

import msgspec

from zarbek.core.jsonschema.validation import Find
from zarbek.core.model.interface import Schema

MAX_ROWS = 240
_MAX_DEPTH = 8
_TYPE_WORDS = {"array": "list", "integer": "whole number", "string": "text", "boolean": "true or false"}
_MAX_CHOICES = 40


class TypePart(msgspec.Struct, frozen=True, omit_defaults=True, array_like=True):
    """A piece of a type in words. target: path of a symbol of the project, or a URI; empty for none."""

    text: str
    target: str = ""


class Row(msgspec.Struct, frozen=True, omit_defaults=True, kw_only=True):
    """One line of the tree. depth: from 0. label: words in place of a name (``each item``).

    words: limits and choices, as phrases. text: CommonMark. anchor: what addresses it on its page.
    folds: whether what is below it is another symbol's, to be shown on demand.
    """

    depth: int
    name: str = ""
    label: str = ""
    type: list[TypePart]
    required: bool = False
    deprecated: bool = False
    words: list[str] = []
    text: str = ""
    example: str = ""
    anchor: str = ""
    folds: bool = False


def tree_of(schema: Schema, find: Find, *, levels: int = 1, most: int = MAX_ROWS, own: str = "") -> list[Row]:
    """Rows in order, at most so many.

    levels: how deep schemas of other symbols are opened; recursion ends where it begins again. own: path
    of the symbol whose schema it is.
    """
    for level in range(levels, -1, -1):
        walker = _Walker(find, level, most if level else most * 20)
        try:
            return list(walker.walk(schema, 0, (own,) if own else (), 0, Row(depth=0, type=[])))[:most]
        except _TooMany:
            continue
    return []


def type_words(schema: Any) -> list[TypePart]:
    """What a schema admits, in a few words with the names of what it refers to."""
    if not isinstance(schema, dict):
        return [TypePart("anything")]
    reference = schema.get("$ref")
    if isinstance(reference, str):
        return [_named(reference)]
    kinds = schema.get("type")
    listed = [str(k) for k in kinds] if isinstance(kinds, list) else [str(kinds)] if kinds else []
    if not listed and (joined := _joined(schema)):
        return joined
    parts = _listed_words(schema, listed) or [TypePart(_unlisted_word(schema, listed))]
    if isinstance(schema.get("format"), str):
        parts.append(TypePart(f" ({schema['format']})"))
    if "null" in listed and len(listed) > 1:
        parts.append(TypePart(" or null"))
    return parts


def _named(reference: str) -> TypePart:
    """A reference by the last part of its name, with what it names inside of that."""
    target = reference.removeprefix("api:").partition("#")[0] if reference.startswith("api:") else reference
    part = reference.partition("#")[2].rpartition("/")[2]
    name = target.rstrip("/").rpartition(".")[2].rpartition("/")[2]
    return TypePart(f"{name} {part}".strip() if part and part != name else name, target)


def _joined(schema: Schema) -> list[TypePart]:
    """The alternatives or parts of which a schema without a type of its own is made."""
    for word, joint in (("oneOf", " or "), ("anyOf", " or "), ("allOf", " and ")):
        parts: list[TypePart] = []
        for choice in (c for c in schema.get(word) or () if isinstance(c, dict)):
            parts += ([TypePart(joint)] if parts else []) + type_words(choice)
        if parts:
            return parts
    return []


def _listed_words(schema: Schema, listed: list[str]) -> list[TypePart]:
    if "array" in listed and isinstance(schema.get("items"), dict):
        return [TypePart("list of "), *type_words(schema["items"])]
    words = " or ".join(_TYPE_WORDS.get(k, k) for k in listed if k != "null")
    return [TypePart(words)] if words else []


def _unlisted_word(schema: Schema, listed: list[str]) -> str:
    if "enum" in schema:
        return "one of the values below"
    if listed == ["null"]:
        return "null"
    return "object" if "properties" in schema else "anything"


_LIMITS = (
    ("minimum", "at least {}"), ("exclusiveMinimum", "more than {}"), ("maximum", "at most {}"),
    ("exclusiveMaximum", "less than {}"), ("multipleOf", "a multiple of {}"), ("minLength", "at least {} characters"),
    ("maxLength", "at most {} characters"), ("pattern", "matches {}"), ("minItems", "at least {} items"),
    ("maxItems", "at most {} items"), ("minProperties", "at least {} properties"),
    ("maxProperties", "at most {} properties"),
)  # fmt: skip
_SAID = (("const", "always {}"), ("default", "{} if left out"))
_FLAGS = (("readOnly", True, "only in answers"), ("writeOnly", True, "only in requests"))


def _choice_words(schema: Schema) -> Iterator[str]:
    """What a value is one of, and which property tells which of several schemas it has."""
    if isinstance(schema.get("enum"), list):
        shown = [_shown(v) for v in schema["enum"][:_MAX_CHOICES]]
        more = len(schema["enum"]) - len(shown)
        yield "one of " + ", ".join(shown) + (f" and {more} more" if more > 0 else "")
    discriminator = schema.get("discriminator")
    which = discriminator.get("propertyName") if isinstance(discriminator, dict) else discriminator
    if isinstance(which, str):
        yield f"{which} tells which"


def limits_in_words(schema: Schema) -> list[str]:
    """Constraints as phrases, in a fixed order."""
    words = [_limit(key, form, schema[key]) for key, form in _LIMITS if _says_something(key, schema.get(key))]
    if schema.get("uniqueItems") is True:
        words.append("all items different")
    words += _choice_words(schema)
    words += [form.format(_shown(schema[key])) for key, form in _SAID if key in schema]
    words += [phrase for key, value, phrase in _FLAGS if schema.get(key) is value]
    if schema.get("additionalProperties") is False or schema.get("unevaluatedProperties") is False:
        words.append("no other properties")
    if isinstance(schema.get("contentMediaType"), str):
        words.append(f"holds {schema['contentMediaType']}")
    for name, needs in (schema.get("dependentRequired") or {}).items():
        if isinstance(needs, list):
            words.append(f"with {name} also {', '.join(map(str, needs))}")
    return words


def _says_something(key: str, value: Any) -> bool:
    if value is None or isinstance(value, bool):
        return False
    return value != 0 or key in ("minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", "maxLength", "maxItems")


def _limit(key: str, form: str, value: Any) -> str:
    words = form.format(value)
    if value == 1 and key.endswith(("Length", "Items", "Properties")):
        return words.replace("properties", "property").removesuffix("s")
    return words


def _shown(value: Any) -> str:
    return value if isinstance(value, str) and value else json.dumps(value, ensure_ascii=False, default=str)


class _TooMany(Exception):
    """More rows than fit; with fewer schemas opened there are fewer."""


def _only_reference(schema: Schema) -> Any:
    """What a schema refers to, itself, by its items or by its only alternative but null."""
    reference = schema.get("$ref")
    if reference is None and isinstance(schema.get("items"), dict):
        reference = schema["items"].get("$ref")
    if reference is not None or "properties" in schema:
        return reference
    choices = [c for w in ("oneOf", "anyOf", "allOf") for c in schema.get(w) or () if isinstance(c, dict)]
    named = [c for c in choices if c.get("type") != "null"]
    return named[0].get("$ref") if len(named) == 1 else None


def _symbol_named(reference: Any) -> str:
    """The path of a symbol that is referred to as a whole; empty for anything else."""
    is_whole = isinstance(reference, str) and reference.startswith("api:") and "#" not in reference
    return reference[4:] if is_whole else ""


def _all_limits(schema: Schema) -> list[str]:
    """Those of a schema, and of each of its items."""
    items = schema.get("items")
    of_each = limits_in_words(items) if isinstance(items, dict) and "$ref" not in items else []
    return limits_in_words(schema) + [f"each {w}" for w in of_each]


def _plain_example(examples: Any) -> str:
    """The first one, if a row has room for it."""
    example = examples[0] if isinstance(examples, list) and examples else None
    return _shown(example) if example is not None and not isinstance(example, (dict, list)) else ""


def _real_choices(schema: Schema, word: str) -> list[Schema]:
    """The alternatives of a schema, but of two where one is null: that its type says."""
    choices = [c for c in schema.get(word) or () if isinstance(c, dict)]
    is_nullable = len(choices) == 2 and len([c for c in choices if c.get("type") != "null"]) == 1
    return [] if is_nullable else choices


def _held(schema: Schema, depth: int) -> Iterator[tuple[Any, Row]]:
    """The properties of an object, each with the row that it begins."""
    needed = set(schema.get("required") or ())
    for name, inner in (schema.get("properties") or {}).items():
        anchor = str(name) if depth == 1 else ""
        yield inner, Row(depth=depth, name=str(name), type=[], required=name in needed, anchor=anchor)
    for pattern, inner in (schema.get("patternProperties") or {}).items():
        yield inner, Row(depth=depth, label=f"named {pattern}", type=[])
    extra = schema.get("additionalProperties")
    if isinstance(extra, dict) and extra:
        yield extra, Row(depth=depth, label="any other property", type=[])


class _Walker:
    def __init__(self, find: Find, levels: int, most: int) -> None:
        self.find, self.levels, self.left = find, levels, most

    def walk(self, schema: Any, depth: int, open_paths: tuple[str, ...], level: int, row: Row) -> Iterator[Row]:
        """The row of a schema, then those of what it holds."""
        self.left -= 1
        if self.left < 0:
            raise _TooMany
        if not isinstance(schema, dict):
            schema = {"not": {}} if schema is False else {}
        target, opened = self._target(schema)
        again = target in open_paths
        may_open = bool(target) and not again and level < self.levels and depth < _MAX_DEPTH
        shown = self._row(schema, opened, row, again=again)
        inner = (
            list(self._inside(opened if may_open else {}, depth + 1, (*open_paths, target), level + 1))
            if may_open
            else (list(self._inside(self._own(schema), depth + 1, open_paths, level)))
        )
        yield msgspec.structs.replace(shown, folds=may_open and depth > 0 and bool(inner))
        yield from inner

    @staticmethod
    def _own(schema: Schema) -> Schema:
        """What a schema says itself; of a list what its items do."""
        items = schema.get("items")
        if isinstance(items, dict) and "$ref" not in items and not ({"properties", "oneOf", "anyOf"} & schema.keys()):
            return items
        return schema

    def _target(self, schema: Schema) -> tuple[str, Schema]:
        """(path, schema) of the symbol that a schema, its items or its only alternative but null is."""
        path = _symbol_named(_only_reference(schema))
        found = self.find(path) if path else None
        for _ in range(_MAX_DEPTH):  # A message may be but another name of a schema.
            inner = _symbol_named(found.get("$ref")) if found and len(found) == 1 else ""
            if not inner:
                break
            path, found = inner, self.find(inner)
        return (path, found) if found else ("", {})

    def _row(self, schema: Schema, opened: Schema, row: Row, *, again: bool) -> Row:
        words = _all_limits(schema)
        if not words and opened:
            words = [w for w in limits_in_words(opened) if not w.startswith("no other")]
        text = schema.get("description") or (opened.get("description") if not row.name else "") or ""
        return msgspec.structs.replace(
            row, type=type_words(schema), words=[*words, "as above"] if again else words, text=str(text),
            deprecated=schema.get("deprecated") is True, example=_plain_example(schema.get("examples")),
        )  # fmt: skip

    def _inside(self, schema: Schema, depth: int, open_paths: tuple[str, ...], level: int) -> Iterator[Row]:
        if depth > _MAX_DEPTH:
            return
        own = self._own(schema)
        if own is not schema and not schema.get("properties"):
            yield from self._inside(own, depth, open_paths, level)
        for inner, row in _held(schema, depth):
            yield from self.walk(inner, depth, open_paths, level, row)
        yield from self._composed(schema, depth, open_paths, level)
        for index, inner in enumerate(schema.get("prefixItems") or (), start=1):
            yield from self.walk(inner, depth, open_paths, level, Row(depth=depth, label=f"item {index}", type=[]))

    def _composed(self, schema: Schema, depth: int, open_paths: tuple[str, ...], level: int) -> Iterator[Row]:
        """Composition in words: what holds at once, and what may be chosen."""
        for inner in schema.get("allOf") or ():
            if isinstance(inner, dict) and "$ref" not in inner:
                yield from self._inside(inner, depth, open_paths, level)
            else:
                yield from self.walk(inner, depth, open_paths, level, Row(depth=depth, label="and all of", type=[]))
        for word, label in (("oneOf", "exactly one of"), ("anyOf", "one or more of")):
            for index, inner in enumerate(_real_choices(schema, word)):
                row = Row(depth=depth, label=label if not index else "or", type=[])
                yield from self.walk(inner, depth, open_paths, level, row)
        for word, label in (("if", "if it is"), ("then", "then also"), ("else", "else"), ("not", "but not")):
            if isinstance(schema.get(word), dict) and schema[word] not in ({}, True):
                yield from self.walk(schema[word], depth, open_paths, level, Row(depth=depth, label=label, type=[]))
