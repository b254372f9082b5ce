"""stale/example: written examples that do not fit what they are examples of."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from zarbek.core.jsonschema.validation import SchemaError, SchemaMismatch, SchemaSet
from zarbek.core.model.finding import Finding
from zarbek.core.model.interface import Schema
from zarbek.core.sources.interfaces.pointers import parse_pointer, with_indexes
from zarbek.core.sources.interfaces.symbol_builder import WrittenExample

#: A value that stands for something secret or left out says nothing of its schema.
_PLACEHOLDERS = (None, "", "...", "…")


def check_examples(examples: Iterable[WrittenExample], schemas: SchemaSet) -> list[Finding]:
    """One finding an example that does not fit, at the line of its first fault."""
    found = []
    for example in examples:
        if example.schema in ({}, {"type": "string", "format": "binary"}) or example.value in _PLACEHOLDERS:
            continue
        try:
            misfits = schemas.misfits(example.value, example.schema, _direction(example))
        except SchemaError as error:
            found.append(_unusable(example, str(error)))
            continue
        if misfits:
            found.append(_stale(example, misfits))
    return found


def _direction(example: WrittenExample) -> Any:
    return example.direction if example.direction in ("request", "response") else ""


def _stale(example: WrittenExample, misfits: list[SchemaMismatch]) -> Finding:
    first = misfits[0]
    where = f" at {first.path}" if first.path else ""
    more = f" {len(misfits) - 1} more of it do not fit." if len(misfits) > 1 else ""
    what = f"The example of {example.what}" if example.what else "The example"
    name = _title_of(example.schema)
    fits = f" does not fit {name}" if name else " does not fit its schema"
    inner = with_indexes(parse_pointer(first.path) or (), example.value)
    line = example.document.line((*example.pointer, *inner))
    lines = example.document.lines
    return Finding(
        "stale/example", "error", example.subject, f"{what}{fits}:{where} {first.message}.{more}",
        file=example.document.file, line=line, text=lines[line - 1].strip()[:120] if line <= len(lines) else "",
        target=example.subject,
    )  # fmt: skip


def _unusable(example: WrittenExample, reason: str) -> Finding:
    return Finding(
        "text/breaks-standard", "warning", example.subject, f"A schema of {example.subject} cannot be used: {reason}.",
        file=example.document.file, line=example.document.line(example.pointer), target=example.subject,
    )  # fmt: skip


def _title_of(schema: Schema) -> str:
    """The name of what a schema refers to, or empty."""
    reference = schema.get("$ref")
    if not isinstance(reference, str):
        reference = schema.get("items", {}).get("$ref") if isinstance(schema.get("items"), dict) else None
    if not isinstance(reference, str):
        return ""
    return reference.partition("#")[0].rpartition(".")[2]
