"""The API's own description (OpenAPI 3.1.1), from its routes and the structs that it answers."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from functools import cache
from typing import Any

import msgspec
from django.http import HttpRequest, HttpResponse
from django.urls import URLPattern

from zarbek import __version__
from zarbek.service.common.api import Operation, Parameter
from zarbek.service.common.conditional import json_response
from zarbek.service.common.html import html_schema
from zarbek.service.common.request_validation import MAX_NUMBER, MAX_TEXT

_PART = re.compile(r"<(?:(\w+):)?(\w+)>")
_METHODS = ("get", "post", "put", "delete")
_PROBLEM = {
    "type": "object",
    "required": ["type", "title", "status", "detail", "code"],
    "properties": {
        "type": {"type": "string", "format": "uri-reference"},
        "title": {"type": "string"},
        "status": {"type": "integer"},
        "detail": {"type": "string"},
        "code": {"type": "string"},
    },
}


def openapi_view(patterns: Sequence[URLPattern]) -> Callable[[HttpRequest], HttpResponse]:
    """The view that answers with the description of an API's routes."""
    described = cache(lambda: describe_api(patterns))
    return lambda request: json_response(request, described())


def describe_api(patterns: Sequence[URLPattern]) -> dict[str, Any]:
    """patterns: routes to views whose methods are described."""
    operations = [
        (str(pattern.pattern), method, getattr(handler, "operation"))  # noqa: B009
        for pattern in patterns
        for method in _METHODS
        if (handler := getattr(pattern.callback.view_class, method, None)) is not None
    ]
    schemas, components = _schemas(operations)
    paths: dict[str, dict[str, Any]] = {}
    for route, method, operation in operations:
        address = "/" + _PART.sub(r"{\2}", route)
        paths.setdefault(address, {})[method] = _operation(route, operation, schemas)
    return {
        "openapi": "3.1.1",
        "info": {"title": "Zarbek", "version": __version__, "license": {"name": "Apache-2.0", "identifier": "Apache-2.0"},
                 "summary": "One portal for the API references of many projects, with its links resolved and reported."},
        "servers": [{"url": "/"}],
        "security": [{}, {"token": []}],
        "paths": paths,
        "components": {
            "schemas": {**components, "Problem": _PROBLEM},
            "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}},
        },
    }  # fmt: skip


def _schemas(operations: list[tuple[str, str, Operation]]) -> tuple[dict[Any, Any], dict[str, Any]]:
    kinds = []
    for _, _, operation in operations:
        for kind in (operation.answer, operation.body):
            if kind is not None and not isinstance(kind, str) and kind not in kinds:
                kinds.append(kind)
    found, components = msgspec.json.schema_components(
        kinds, schema_hook=html_schema, ref_template="#/components/schemas/{name}"
    )
    return {repr(kind): schema for kind, schema in zip(kinds, found, strict=True)}, components


_NUMBER = {"type": "integer", "minimum": 0, "maximum": MAX_NUMBER}
_TEXT = {"type": "string", "maxLength": MAX_TEXT}


def _schema_of(parameter: Parameter) -> dict[str, Any]:
    if parameter.type == "integer":
        return {"type": "integer", "minimum": parameter.least, "maximum": parameter.most_number}
    if parameter.type != "string":
        return {"type": parameter.type}
    return {
        "type": "string",
        "maxLength": parameter.most,
        **({"pattern": parameter.pattern} if parameter.pattern else {}),
    }


def _operation(route: str, operation: Operation, schemas: dict[Any, Any]) -> dict[str, Any]:
    parameters = [
        {"name": name, "in": "path", "required": True, "schema": _NUMBER if kind == "int" else _TEXT}
        for kind, name in _PART.findall(route)
    ]
    parameters += [
        {"name": p.name, "in": "query", "description": p.meaning, "schema": _schema_of(p)} for p in operation.parameters
    ]
    answer: dict[str, Any] = {"description": operation.summary}
    if operation.answer is not None:
        answer["content"] = {operation.media_type: {"schema": schemas[repr(operation.answer)]}}
    problem = {
        "description": "A problem (RFC 9457)",
        "content": {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}},
    }
    described: dict[str, Any] = {
        "operationId": operation.id, "summary": operation.summary, "parameters": parameters,
        "responses": {str(operation.status): answer, "4XX": problem, "5XX": problem},
    }  # fmt: skip
    if isinstance(operation.body, str):
        described["requestBody"] = {"required": True, "content": {operation.body: {"schema": {}}}}
    elif operation.body is not None:
        described["requestBody"] = {
            "required": True,
            "content": {"application/json": {"schema": schemas[repr(operation.body)]}},
        }
    return described
