"""Parts of operations as OpenAPI 2.0 writes them. Source: OpenAPI Specification 2.0, "Operation Object"."""

from __future__ import annotations

from typing import Any

from zarbek.core.model.interface import Body, Media, NamedValue, Server
from zarbek.core.sources.interfaces.documents import Document, Pointer
from zarbek.core.sources.interfaces.openapi3_parts import OpenApi3Parts
from zarbek.core.sources.interfaces.symbol_builder import SymbolBuilder, example_of, is_json_type, items, mapping

_NOT_OF_SCHEMA = frozenset(("name", "in", "description", "required", "collectionFormat", "allowEmptyValue", "headers"))


class OpenApi2Parts(OpenApi3Parts):
    """A body is a parameter there, a parameter is its own schema, and media types stand apart."""

    def __init__(self, builder: SymbolBuilder, root: dict[str, Any]) -> None:
        super().__init__(builder)
        self.consumes = [str(m) for m in items(root.get("consumes"))] or ["application/json"]
        self.produces = [str(m) for m in items(root.get("produces"))] or ["application/json"]
        self._produces = self.produces

    def servers(self, root: dict[str, Any]) -> list[Server]:
        """Where a description says that its API runs (OpenAPI 2.0, schemes, host and basePath)."""
        host, base = str(root.get("host", "")), str(root.get("basePath", "") or "/")
        schemes = [str(s) for s in items(root.get("schemes"))] or (["https"] if host else [""])
        return [Server(f"{s}://{host}{base.rstrip('/')}" if host else base) for s in schemes]

    def _slot(
        self, found: dict[str, Any], document: Document, pointer: Pointer, name: str, place: str, ref: str
    ) -> NamedValue | None:
        name, place = name or str(found.get("name", "")), place or str(found.get("in", ""))
        if not name or place not in ("path", "query", "header"):
            return None
        field = f"parameter:{name}"
        schema = self.builder.schema(
            {k: v for k, v in found.items() if k not in _NOT_OF_SCHEMA}, pointer, field, document
        )
        self.text(found, document, pointer, field)
        is_multi = found.get("collectionFormat") == "multi"
        return NamedValue(name, place, schema, str(found.get("description") or "").strip(),
                    required=found.get("required") is True or place == "path", explode=is_multi, ref=ref)  # fmt: skip

    def shared_body(self, value: Any, document: Document, pointer: Pointer) -> Body | None:
        """A body parameter as a body; None for another parameter (OpenAPI 2.0, Parameter Object)."""
        value, document, pointer, _ = self.follow(value, document, pointer, "request")
        found = mapping(value)
        if found.get("in") != "body":
            return None
        schema = self.builder.schema(found.get("schema"), (*pointer, "schema"), "request", document)
        media = [Media(m, schema) for m in self.consumes]
        return Body(media, str(found.get("description") or "").strip(), found.get("required") is True)

    def body_of(self, operation: dict[str, Any], document: Document, pointer: Pointer) -> Body | None:
        """The body that the parameters of an operation make: one of place ``body``, or a form."""
        consumes = [str(m) for m in items(operation.get("consumes"))]
        self._produces = [str(m) for m in items(operation.get("produces"))] or self.produces
        form: dict[str, Any] = {}
        required: list[str] = []
        for index, entry in enumerate(items(operation.get("parameters"))):
            at = (*pointer, "parameters", index)
            body = self.shared_body(entry, document, at)
            if body is not None:
                media = [Media(m, body.media[0].schema) for m in consumes] if consumes and body.media else body.media
                return Body(media, body.text, body.required)
            self._form_field(entry, document, at, form, required)
        if not form:
            return None
        has_file = any(s.get("format") == "binary" for s in form.values())
        kinds = consumes or ["multipart/form-data" if has_file else "application/x-www-form-urlencoded"]
        schema = {"type": "object", "properties": form, **({"required": required} if required else {})}
        return Body([Media(kind, schema) for kind in kinds], required=bool(required))

    def _form_field(
        self, entry: Any, document: Document, at: Pointer, form: dict[str, Any], required: list[str]
    ) -> None:
        value, where, place, _ = self.follow(entry, document, at, "request")
        found = mapping(value)
        if found.get("in") != "formData":
            return
        name = str(found.get("name", ""))
        plain = {k: v for k, v in found.items() if k not in _NOT_OF_SCHEMA or k == "description"}
        form[name] = self.builder.schema(plain, place, "request", where)
        if found.get("required") is True:
            required.append(name)

    def forms(self, found: dict[str, Any], document: Document, pointer: Pointer, field: str) -> list[Media]:
        """What comes back, by media type (OpenAPI 2.0, Response Object). field: whom its mentions belong to."""
        schema = self.builder.schema(found.get("schema"), (*pointer, "schema"), field, document)
        examples = mapping(found.get("examples"))
        kinds = list(dict.fromkeys([*(self._produces if "schema" in found else ()), *map(str, examples)]))
        return [
            Media(m, schema, [example_of(examples[m], is_json=is_json_type(m))] if m in examples else []) for m in kinds
        ]
