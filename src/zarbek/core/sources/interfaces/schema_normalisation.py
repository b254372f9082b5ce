"""Schemas of every dialect in one normal form: JSON Schema 2020-12.

Sources: JSON Schema 2020-12 and the release notes of drafts 4, 6, 7 and 2019-09; OpenAPI 2.0
"Schema Object" and 3.0.4 section 4.7.24 (``nullable``, ``exclusiveMinimum`` as a mark, ``example``).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from zarbek.core.model.interface import Schema
from zarbek.core.sources.interfaces.document_set import OUTSIDE, DocumentSet, Place
from zarbek.core.sources.interfaces.documents import Document, Pointer

#: A reference or a text that was met: (kind, as written, name or text, document, pointer).
Met = Callable[[str, str, str, Document, Pointer], None]
_ONE = frozenset(
    "not if then else contains additionalProperties unevaluatedProperties unevaluatedItems propertyNames "
    "contentSchema additionalItems".split()
)
_MANY = frozenset(("allOf", "anyOf", "oneOf", "prefixItems"))
_NAMED = frozenset(("properties", "patternProperties", "dependentSchemas"))
_DROPPED = frozenset(("$schema", "$comment", "$defs", "definitions", "$anchor", "$dynamicAnchor", "$vocabulary"))
_LIMITS = (("exclusiveMinimum", "minimum"), ("exclusiveMaximum", "maximum"))
MAX_DEPTH = 60


class SchemaNormaliser:
    """Converts schemas; what they refer to is told to ``met``."""

    def __init__(self, documents: DocumentSet, met: Met) -> None:
        self.documents, self.met = documents, met
        self._open: list[tuple[str, Pointer]] = []
        self._examples: list[tuple[Schema, Any, Document, Pointer]] = []

    def take_examples(self) -> list[tuple[Schema, Any, Document, Pointer]]:
        """(schema, value, document, pointer) of the examples met since the last call."""
        found, self._examples = self._examples, []
        return found

    def convert(self, value: Any, document: Document, pointer: Pointer) -> Schema:
        """A schema, or {} for what is none; ``true`` is {} and ``false`` is ``{"not": {}}``."""
        if value is False:
            return {"not": {}}
        if not isinstance(value, dict) or len(pointer) > MAX_DEPTH * 3:
            return {}
        reference = value.get("$ref", value.get("$dynamicRef", value.get("$recursiveRef")))
        made: Schema = {}
        for key, inner in value.items():
            self._keyword(made, key, inner, document, pointer)
        if isinstance(reference, str):
            self._refer(made, reference, document, pointer)
        _modernise(made, value)
        _drop_nonsense(made)
        if "examples" in made or "default" in made:
            self._keep_examples(made, value, document, pointer)
        return made

    def _keyword(self, made: Schema, key: str, inner: Any, document: Document, pointer: Pointer) -> None:
        at = (*pointer, key)
        if key in _NAMED:
            if isinstance(inner, dict):
                made[key] = {str(name): self.convert(s, document, (*at, name)) for name, s in inner.items()}
        elif key in _ONE:
            made[key] = self._flag_or_schema(inner, document, at)
        elif key in _MANY:
            if isinstance(inner, list):
                made[key] = [self.convert(s, document, (*at, n)) for n, s in enumerate(inner)]
        elif key == "items":
            self._items(made, inner, document, pointer)
        elif key == "description":
            made[key] = str(inner)
            self.met("text", "", str(inner), document, at)
        elif key not in _DROPPED:
            made[key] = inner

    def _keep_examples(self, made: Schema, value: dict[str, Any], document: Document, pointer: Pointer) -> None:
        if "default" in made:
            self._examples.append((made, made["default"], document, (*pointer, "default")))
        if "example" in value:
            self._examples.append((made, value["example"], document, (*pointer, "example")))
        elif isinstance(value.get("examples"), list):
            for index, example in enumerate(value["examples"]):
                self._examples.append((made, example, document, (*pointer, "examples", index)))

    def _flag_or_schema(self, inner: Any, document: Document, pointer: Pointer) -> Any:
        return inner if isinstance(inner, bool) else self.convert(inner, document, pointer)

    def _items(self, made: Schema, inner: Any, document: Document, pointer: Pointer) -> None:
        """A list of schemas, one an item, is ``prefixItems`` since 2020-12."""
        if isinstance(inner, list):
            made["prefixItems"] = [self.convert(s, document, (*pointer, "items", n)) for n, s in enumerate(inner)]
        else:
            made["items"] = self._flag_or_schema(inner, document, (*pointer, "items"))

    def _refer(self, made: Schema, reference: str, document: Document, pointer: Pointer) -> None:
        for word in ("$dynamicRef", "$recursiveRef"):
            made.pop(word, None)
        found = self.documents.find(reference, document.file)
        if isinstance(found, str):
            is_outside = found == OUTSIDE
            meant = "" if is_outside else self.documents.path_meant(reference, document.file)
            address = self.documents.identified(reference, document.file) or reference
            name = address if is_outside else meant or reference.lstrip("#/")
            made["$ref"] = reference if is_outside else f"api:{name}"
            self.met("outside" if is_outside else "broken", reference, name, document, (*pointer, "$ref"))
            return
        named = self.documents.path_of(found)
        if named is not None:
            path, part = named
            made["$ref"] = f"api:{path}" + (f"#{part}" if part else "")
            self.met("ref", reference, path, document, (*pointer, "$ref"))
            return
        made.pop("$ref", None)
        for key, inner in self._inlined(found).items():
            made.setdefault(key, inner)

    def _inlined(self, found: Place) -> Schema:
        """A part of a description that has no name of its own stands where it is used."""
        key = (found.document.file, found.pointer)
        if key in self._open or len(self._open) > MAX_DEPTH:
            return {}
        self._open.append(key)
        try:
            return self.convert(found.document.at(found.pointer), found.document, found.pointer)
        finally:
            self._open.pop()


def _modernise(made: Schema, value: dict[str, Any]) -> None:
    """Keywords of older dialects to those of today."""
    for exclusive, limit in _LIMITS:
        if made.get(exclusive) is True and limit in made:
            made[exclusive] = made.pop(limit)
        elif isinstance(made.get(exclusive), bool):
            del made[exclusive]
    if "example" in made:
        made.setdefault("examples", [made["example"]])
        del made["example"]
    if isinstance(made.get("examples"), dict):  # A habit of some tools; the standard has a list.
        made["examples"] = list(made["examples"].values())
    if made.get("type") == "file":
        made.update(type="string", format="binary")
    if "dependencies" in made:
        _split_dependencies(made)
    _modern_items(made)
    if "id" in made and isinstance(made["id"], str) and "$schema" in value:
        made["$id"] = made.pop("id")
    if made.pop("nullable", made.pop("x-nullable", False)) is True:
        _admit_null(made)
    if isinstance(made.get("required"), bool):  # Draft 3 and a common slip.
        del made["required"]


def _modern_items(made: Schema) -> None:
    extra = made.pop("additionalItems", None)
    if extra is not None and "prefixItems" in made:
        made["items"] = extra


def _split_dependencies(made: Schema) -> None:
    old = made.pop("dependencies")
    if not isinstance(old, dict):
        return
    names = {k: v for k, v in old.items() if isinstance(v, list)}
    if names:
        made["dependentRequired"] = names
    schemas = {k: v for k, v in old.items() if isinstance(v, dict)}
    if schemas:
        made["dependentSchemas"] = schemas


def _admit_null(made: Schema) -> None:
    kind = made.get("type")
    if isinstance(kind, str):
        made["type"] = [kind, "null"]
    elif "$ref" in made:
        made["anyOf"] = [{"$ref": made.pop("$ref")}, {"type": "null"}]
    elif isinstance(made.get("allOf"), list) and "anyOf" not in made:
        made["anyOf"] = [{"allOf": made.pop("allOf")}, {"type": "null"}]
    if isinstance(made.get("enum"), list) and None not in made["enum"]:
        made["enum"] = [*made["enum"], None]


_NUMBERS = ("minimum", "maximum", "exclusiveMinimum", "exclusiveMaximum", "multipleOf")
_COUNTS = (
    "minLength",
    "maxLength",
    "minItems",
    "maxItems",
    "minProperties",
    "maxProperties",
    "minContains",
    "maxContains",
)
_TEXTS = ("$ref", "$id", "pattern", "format", "title", "contentMediaType", "contentEncoding")


def _drop_nonsense(made: Schema) -> None:
    """Keywords whose value is of no kind that the standard allows say nothing; what is wrong with them is
    told elsewhere (``text/breaks-standard``)."""
    for word, fits in _FITS:
        if word in made and not fits(made[word]):
            del made[word]
    if "required" in made:
        made["required"] = [name for name in made["required"] if isinstance(name, str)]


def _is_number(value: Any) -> bool:
    return isinstance(value, (int, float)) and not isinstance(value, bool)


def _is_count(value: Any) -> bool:
    return _is_number(value) and value >= 0 and int(value) == value


def _is_type(value: Any) -> bool:
    return isinstance(value, str) or (isinstance(value, list) and all(isinstance(kind, str) for kind in value))


def _is_names_by_name(value: Any) -> bool:
    return isinstance(value, dict) and all(isinstance(names, list) for names in value.values())


_FITS: tuple[tuple[str, Callable[[Any], bool]], ...] = (
    *((word, _is_number) for word in _NUMBERS),
    *((word, _is_count) for word in _COUNTS),
    *((word, lambda value: isinstance(value, str)) for word in _TEXTS),
    *((word, lambda value: isinstance(value, list)) for word in ("required", "enum", "examples")),
    ("type", _is_type), ("dependentRequired", _is_names_by_name),
)  # fmt: skip
