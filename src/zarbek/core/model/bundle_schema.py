"""The bundle format as JSON Schema 2020-12, made from the model's own types."""

from __future__ import annotations

from typing import Any

import msgspec

from zarbek.core.model.bundle import Alias, Manifest, Scope
from zarbek.core.model.example import Verdict
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.core.model.source_text import SourceText
from zarbek.core.model.symbol import Symbol

_MEMBERS = {
    "manifest.json": Manifest, "symbols.jsonl": Symbol, "aliases.jsonl": Alias, "scopes.jsonl": Scope,
    "pages.jsonl": Page, "sources.jsonl": SourceText, "verdicts.jsonl": Verdict, "findings.jsonl": Finding,
}  # fmt: skip


def bundle_schema() -> dict[str, Any]:
    """``properties`` holds, by member, the schema of the member or of each of its lines."""
    found, components = msgspec.json.schema_components(list(_MEMBERS.values()), ref_template="#/$defs/{name}")
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Zarbek bundle, format 1",
        "description": "Each .jsonl member has one value a line; a property here describes one line.",
        "type": "object",
        "properties": dict(zip(_MEMBERS, found, strict=True)),
        "$defs": components,
    }
