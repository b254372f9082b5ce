"""text/breaks-standard: descriptions that their own standard does not allow, with line and rule.

The schemas of OpenAPI are the OpenAPI Initiative's own, kept beside this module.
"""

from __future__ import annotations

import json
import re
from functools import lru_cache
from importlib import resources
from typing import Any

import jsonschema_rs

from zarbek.core.jsonschema.validation import misfits_of
from zarbek.core.model.finding import Finding
from zarbek.core.sources.interfaces import openapi_schemas
from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.interfaces.pointers import parse_pointer, with_indexes

MAX_FINDINGS = 20


def check_standard(document: Document, language: str) -> list[Finding]:
    """What the standard of a description forbids; the parts that are right are read all the same."""
    if language == "openapi":
        version = str(document.value.get("openapi") or document.value.get("swagger") or "")
        validator = _openapi(".".join(version.split(".")[:2]))
        return _described(document, validator, f"OpenAPI {version}")
    return _json_schema(document) if language == "json-schema" else []


def _described(document: Document, validator: Any, name: str) -> list[Finding]:
    if validator is None:
        return [_finding(document, (), f"{name} is no version that is known; it was read as far as possible")]
    if validator.is_valid(document.value):
        return []
    found = {}
    for misfit in misfits_of(validator, document.value):
        pointer = with_indexes(parse_pointer(misfit.path) or (), document.value)
        where = " › ".join(str(p) for p in pointer) or "the top"
        found[pointer] = _finding(document, pointer, f"It breaks {name} at {where}: {misfit.message}")
    return list(found.values())[:MAX_FINDINGS]


def _json_schema(document: Document) -> list[Finding]:
    value = document.value
    try:
        if not isinstance(value.get("$schema", ""), str) or jsonschema_rs.meta.is_valid(value):
            return []
        jsonschema_rs.meta.validate(value)
    except jsonschema_rs.ValidationError as error:
        pointer = tuple(error.instance_path)
        where = " › ".join(str(p) for p in pointer) or "the top"
        return [_finding(document, pointer, f"It breaks JSON Schema at {where}: {error.message}")]
    except (ValueError, TypeError, jsonschema_rs.ReferencingError):
        return []  # A dialect of its own, which nothing here can judge.
    return []


def _finding(document: Document, pointer: tuple[Any, ...], message: str) -> Finding:
    line = document.line(pointer)
    text = document.lines[line - 1].strip()[:120] if line <= len(document.lines) else ""
    return Finding("text/breaks-standard", "warning", document.file, f"{message}.", file=document.file, line=line,
                   text=text)  # fmt: skip


@lru_cache(maxsize=8)
def _openapi(version: str) -> Any:
    """The validator of a version such as ``3.1``, or None for one that is not known."""
    schema = resources.files(openapi_schemas).joinpath(f"{version}.json")
    if not re.fullmatch(r"\d+\.\d+", version) or not schema.is_file():
        return None
    return jsonschema_rs.validator_for(json.loads(schema.read_bytes()))
