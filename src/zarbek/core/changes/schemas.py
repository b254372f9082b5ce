"""What is different about a schema, and whom that breaks, by the direction in which values go.

Callers write requests and read answers. A request may ask for less and an answer may give more
without breaking anyone; the other way round breaks. Schemas are in the model's normal form.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from zarbek.core.changes.change import Detail
from zarbek.core.model.interface import Schema

_UPPER = {"maximum", "exclusiveMaximum", "maxLength", "maxItems", "maxProperties"}
_LOWER = {"minimum", "exclusiveMinimum", "minLength", "minItems", "minProperties"}
_LIMIT_WORDS = {
    "maximum": "be at most {}",
    "exclusiveMaximum": "be less than {}",
    "minimum": "be at least {}",
    "exclusiveMinimum": "be more than {}",
    "maxLength": "have at most {} characters",
    "minLength": "have at least {} characters",
    "maxItems": "have at most {} items",
    "minItems": "have at least {} items",
    "maxProperties": "have at most {} properties",
    "minProperties": "have at least {} properties",
    "pattern": "match {}",
    "multipleOf": "be a multiple of {}",
    "uniqueItems": "have items that are all different",
}
_TYPE_WORDS = {"array": "list", "integer": "whole number", "string": "text", "boolean": "true or false"}
MAX_DETAILS = 60
_MAX_DEPTH = 12
_MAX_LISTED = 20


@dataclass(frozen=True, slots=True)
class SchemaUse:
    """In which directions callers meet a schema; a schema that nothing uses is met in both."""

    sent: bool
    received: bool

    @property
    def words(self) -> str:
        """Where a schema is used, as a sentence says it."""
        if self.sent and self.received:
            return "in requests and answers"
        return "in requests" if self.sent else "in answers"


def sides_of(*flags: list[str]) -> SchemaUse:
    """The sides that flags of schemas tell of; both where none does."""
    found = {f for each in flags for f in each} & {"request", "response"}
    return SchemaUse("request" in found or not found, "response" in found or not found)


def compare_schemas(old: Schema, new: Schema, sides: SchemaUse, at: str = "") -> list[Detail]:
    """Differences in the order of the schema; texts and examples play no part.

    at: path of the property within what is compared, for the sentences. References are compared by
    name: what they lead to is a symbol of its own.
    """
    found = []
    for detail in _compare(old, new, sides, at, 0):
        found.append(detail)
        if len(found) == MAX_DETAILS:
            break
    return found


def _compare(old: Schema, new: Schema, sides: SchemaUse, at: str, depth: int) -> Iterator[Detail]:
    if depth > _MAX_DEPTH or old == new:
        return
    it = at or "It"
    old, new = _flat(old), _flat(new)
    yield from _kinds(old, new, sides, it)
    yield from _values(old, new, sides, it)
    yield from _limits(old, new, sides, it)
    yield from _properties(old, new, sides, at, depth)
    if isinstance(old.get("items"), dict) and isinstance(new.get("items"), dict):
        yield from _compare(old["items"], new["items"], sides, f"{at}[]" if at else "Each item", depth + 1)
    yield from _choices(old, new, sides, it)
    yield from _marks(old, new, it)


def _flat(schema: Schema) -> Schema:
    """Parts that all hold at once (``allOf``), written as one where they are told here."""
    parts = [p for p in schema.get("allOf", ()) if isinstance(p, dict) and "$ref" not in p]
    if not parts:
        return schema
    made = {k: v for k, v in schema.items() if k != "allOf"}
    left = [p for p in schema["allOf"] if p not in parts]
    if left:
        made["allOf"] = left
    for part in map(_flat, parts):
        made["properties"] = {**part.get("properties", {}), **made.get("properties", {})}
        made["required"] = [*made.get("required", []), *part.get("required", [])]
        made = {**{k: v for k, v in part.items() if k not in ("properties", "required")}, **made}
    return made


def _types(schema: Schema) -> frozenset[str]:
    kind = schema.get("type")
    if isinstance(kind, list):
        return frozenset(map(str, kind))
    return frozenset({str(kind)}) if kind else frozenset()


def words_of(schema: Schema) -> str:
    """What a schema admits in a few words: a type, a name, or alternatives."""
    reference = schema.get("$ref")
    if isinstance(reference, str):
        return reference.partition("#")[0].rpartition(".")[2].rpartition("/")[2]
    kinds = sorted(_types(schema), key=lambda k: k == "null")
    if kinds == ["array"] and isinstance(schema.get("items"), dict):
        return f"list of {words_of(schema['items'])}"
    for word in ("oneOf", "anyOf"):
        if isinstance(schema.get(word), list):
            return " or ".join(dict.fromkeys(words_of(s) for s in schema[word] if isinstance(s, dict)))
    form = f" ({schema['format']})" if isinstance(schema.get("format"), str) else ""
    return (" or ".join(_TYPE_WORDS.get(k, k) for k in kinds) or "anything") + form


def _kinds(old: Schema, new: Schema, sides: SchemaUse, it: str) -> Iterator[Detail]:
    before, after = _types(old), _types(new)
    if old.get("$ref") != new.get("$ref"):
        if _nullable(old) == _nullable(new) or not (old.get("$ref") or new.get("$ref")):
            yield _another_type(old, new, sides, it, breaks=True)
    elif before == after:
        yield from _format(old, new, sides, it)
    elif before == after - {"null"}:
        yield Detail("nullable", f"{it} may be null now {sides.words}.", sides.received, "", "null")
    elif after == before - {"null"}:
        yield Detail("nullable", f"{it} may no longer be null {sides.words}.", sides.sent, "null", "")
    else:
        narrower, wider = _narrows(before, after), _narrows(after, before)
        breaks = not (narrower or wider) or (narrower and sides.sent) or (wider and sides.received)
        yield _another_type(old, new, sides, it, breaks=breaks)


def _format(old: Schema, new: Schema, sides: SchemaUse, it: str) -> Iterator[Detail]:
    if old.get("format") != new.get("format"):
        was, now = str(old.get("format") or ""), str(new.get("format") or "")
        text = f"{it} is {_form(new)} now {sides.words}; it was {_form(old)}."
        yield Detail("format", text, bool(now) if sides.sent else bool(was), was, now)


def _another_type(old: Schema, new: Schema, sides: SchemaUse, it: str, *, breaks: bool) -> Detail:
    was, now = words_of(old), words_of(new)
    return Detail("type", f"{it} is {now} now {sides.words}; it was {was}.", breaks, was, now)


def _form(schema: Schema) -> str:
    return f"of the form {schema['format']}" if schema.get("format") else "any text"


def _nullable(schema: Schema) -> bool:
    return "null" in _types(schema)


def _narrows(before: frozenset[str], after: frozenset[str]) -> bool:
    """Whether all that is admitted after was admitted before."""
    if not before:
        return True
    return bool(after) and all(kind in before or (kind == "integer" and "number" in before) for kind in after)


def _options(schema: Schema) -> list[Any] | None:
    if isinstance(schema.get("enum"), list):
        return list(schema["enum"])
    return [schema["const"]] if "const" in schema else None


def _values(old: Schema, new: Schema, sides: SchemaUse, it: str) -> Iterator[Detail]:
    before, after = _options(old), _options(new)
    if before == after:
        return
    if before is None and after is not None:
        yield Detail("enum", f"{it} is one of {_listed(after)} now {sides.words}.", sides.sent, "", _listed(after))
    elif after is None and before is not None:
        yield Detail(
            "enum", f"{it} may be anything now; it was one of {_listed(before)}.", sides.received, _listed(before)
        )
    elif before is not None and after is not None:
        gone, come = [v for v in before if v not in after], [v for v in after if v not in before]
        if gone:
            yield Detail(
                "value-removed", f"{it} may no longer be {_listed(gone)} {sides.words}.", sides.sent, _listed(gone), ""
            )
        if come:
            yield Detail(
                "value-added", f"{it} may also be {_listed(come)} {sides.words}.", sides.received, "", _listed(come)
            )


def _listed(values: list[Any]) -> str:
    shown = ", ".join(v if isinstance(v, str) else json.dumps(v, default=str) for v in values[:_MAX_LISTED])
    return shown + (f" and {len(values) - _MAX_LISTED} more" if len(values) > _MAX_LISTED else "")


def _limits(old: Schema, new: Schema, sides: SchemaUse, it: str) -> Iterator[Detail]:
    for word, told in _LIMIT_WORDS.items():
        before, after = old.get(word) or None, new.get(word) or None
        before = old.get(word) if old.get(word) == 0 else before
        after = new.get(word) if new.get(word) == 0 and not isinstance(new.get(word), bool) else after
        if before == after:
            continue
        tighter = after is not None and (before is None or _tightens(word, before, after))
        if after is None:
            text = f"{it} no longer needs to {told.format(before)} {sides.words}."
        else:
            was = f"; it was {_text(before)}" if before is not None and before is not True else ""
            text = f"{it} must {told.format(after)} now {sides.words}{was}."
        yield Detail("limit", text, tighter and sides.sent, _text(before), _text(after))


def _tightens(word: str, before: Any, after: Any) -> bool:
    try:
        if word in _UPPER:
            return bool(after < before)
        if word in _LOWER:
            return bool(after > before)
    except TypeError:
        return True
    return True


def _text(value: Any) -> str:
    return "" if value is None else value if isinstance(value, str) else json.dumps(value, default=str)


def _properties(old: Schema, new: Schema, sides: SchemaUse, at: str, depth: int) -> Iterator[Detail]:
    before, needed_before = _parts(old)
    after, needed_after = _parts(new)
    for name, schema in before.items():
        place = f"{at}.{name}" if at else name
        if name not in after:
            yield _gone(place, schema, new, sides)
            continue
        now = after[name]
        if (name in needed_after) != (name in needed_before):
            yield _other_need(place, now, sides, is_needed=name in needed_after)
        if isinstance(schema, dict) and isinstance(now, dict):
            yield from _compare(schema, now, sides, place, depth + 1)
    for name in (n for n in after if n not in before):
        yield _come(f"{at}.{name}" if at else name, name, after[name], sides, is_needed=name in needed_after)
    if new.get("additionalProperties") is False and old.get("additionalProperties") is not False:
        yield Detail("closed", f"{at or 'It'} may hold no properties but its own now.", sides.sent)


def _parts(schema: Schema) -> tuple[dict[str, Any], set[str]]:
    """(properties, names of those that must be there)."""
    return schema.get("properties") or {}, set(schema.get("required") or ())


def _other_need(place: str, now: Schema, sides: SchemaUse, *, is_needed: bool) -> Detail:
    if is_needed:
        return Detail("required", f"{place} must be there now {sides.words}.", _asks(now, sides), "", "required")
    return Detail("optional", f"{place} may be absent now {sides.words}.", sides.received, "required", "")


def _come(place: str, name: str, schema: Any, sides: SchemaUse, *, is_needed: bool) -> Detail:
    breaks = is_needed and isinstance(schema, dict) and _asks(schema, sides)
    text = f"{place} is new and " + (f"must be there {sides.words}." if is_needed else "may be left out.")
    return Detail("property-added", text, breaks, "", f"{name}: {words_of(schema)}")


def _asks(schema: Schema, sides: SchemaUse) -> bool:
    """Whether a needed property is asked of callers: what is only read is not."""
    return sides.sent and schema.get("readOnly") is not True


def _gone(place: str, schema: Schema, new: Schema, sides: SchemaUse) -> Detail:
    closed = new.get("additionalProperties") is False
    breaks = sides.received or (sides.sent and closed)
    word = "is no longer there" if sides.received else "may no longer be given" if closed else "is no longer read"
    return Detail("property-removed", f"{place} {word} {sides.words}.", breaks, f"{place}: {words_of(schema)}", "")


def _choices(old: Schema, new: Schema, sides: SchemaUse, it: str) -> Iterator[Detail]:
    for word in ("oneOf", "anyOf", "allOf"):
        before, after = _choice_words(old, word), _choice_words(new, word)
        gone, come = [s for s in before if s not in after], [s for s in after if s not in before]
        is_all = word == "allOf"
        if gone:
            text = f"{it} no longer holds all of" if is_all else f"{it} may no longer be"
            told = _listed(gone)
            yield Detail("choice-removed", f"{text} {told}.", sides.received if is_all else sides.sent, told, "")
        if come:
            told = _listed(come)
            text = f"{it} holds all of {told} now." if is_all else f"{it} may also be {told}."
            yield Detail("choice-added", text, sides.sent if is_all else sides.received, "", told)


def _choice_words(schema: Schema, word: str) -> list[str]:
    return [words_of(s) for s in schema.get(word) or () if isinstance(s, dict)]


def _marks(old: Schema, new: Schema, it: str) -> Iterator[Detail]:
    marks: tuple[tuple[str, str, Callable[[Any], bool]], ...] = (
        ("readOnly", "is only read now", bool), ("writeOnly", "is only written now", bool),
        ("deprecated", "is deprecated now", bool),
    )  # fmt: skip
    for mark, words, is_set in marks:
        if is_set(new.get(mark)) and not is_set(old.get(mark)):
            yield Detail(mark, f"{it} {words}.", mark == "writeOnly")
