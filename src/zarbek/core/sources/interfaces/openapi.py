"""OpenAPI descriptions (2.0, 3.0, 3.1, 3.2) to symbols: the API, operations, schemas, shared parts."""

from __future__ import annotations

import re
from typing import Any

from msgspec.structs import replace

from zarbek.core.model.interface import Interface, NamedValue, Operation, Schema, Service
from zarbek.core.model.mention import Mention
from zarbek.core.sources.interfaces.document_set import DocumentSet, plain_name
from zarbek.core.sources.interfaces.documents import Document, Pointer
from zarbek.core.sources.interfaces.openapi2_parts import OpenApi2Parts
from zarbek.core.sources.interfaces.openapi3_parts import (
    METHODS,
    OpenApi3Parts,
    iter_examples,
    read_schemes,
    read_security,
    read_servers,
)
from zarbek.core.sources.interfaces.schema_directions import Directions
from zarbek.core.sources.interfaces.symbol_builder import SymbolBuilder, items, list_operations, mapping
from zarbek.core.sources.languages.reading import SourceReading

#: A status of HTTP in backquotes.
_STATUS = re.compile(r"`([1-5]\d\d)`")
_SCHEMA_FIELDS = ("request", "response", "parameter")


def read_openapi(document: Document, module: str, documents: DocumentSet) -> tuple[SourceReading, SymbolBuilder]:
    """The symbols of one description in the order of its text. Parts that are no OpenAPI are passed over."""
    return _OpenApiReader(document, module, documents).read()


def _common_headers(operations: list[Operation]) -> list[NamedValue]:
    named = [{p.name for p in o.parameters if p.place == "header"} for o in operations]
    everywhere = set.intersection(*named)
    return [p for p in operations[0].parameters if p.place == "header" and p.name in everywhere]


class _OpenApiReader:
    def __init__(self, document: Document, module: str, documents: DocumentSet) -> None:
        self.builder = SymbolBuilder(document, module, documents, "openapi")
        self.document, self.module, self.documents = document, module, documents
        self.root = mapping(document.value)
        self.is_old = "swagger" in self.root
        self.parts: OpenApi3Parts = (
            OpenApi2Parts(self.builder, self.root) if self.is_old else OpenApi3Parts(self.builder)
        )
        self.directions = Directions()

    def read(self) -> tuple[SourceReading, SymbolBuilder]:
        self._service()
        self.security = read_security(self.root.get("security"))
        for path, item in mapping(self.root.get("paths")).items():
            if not str(path).startswith("x-"):
                self._path_item(str(path), item, self.document, ("paths", path))
        for name, item in mapping(self.root.get("webhooks")).items():
            owner = f"{self.module}.webhooks.{plain_name(str(name))}"
            self._path_item(str(name), item, self.document, ("webhooks", name), incoming=True, name=owner)
        self._components()
        self.builder.add_wanted(self._schema)
        self.directions.mark(self.builder.reading.symbols)
        self._tell_common_headers()
        list_operations(self.builder.reading.symbols)
        return self.builder.reading, self.builder

    # The API ------------------------------------------------------------------------------

    def _service(self) -> None:
        info = mapping(self.root.get("info"))
        components = mapping(self.root.get("components"))
        version = str(self.root.get("openapi") or self.root.get("swagger") or "")
        servers = self.parts.servers(self.root) if isinstance(self.parts, OpenApi2Parts) else read_servers(
            self.root.get("servers"))  # fmt: skip
        tags = {
            str(t["name"]): str(t.get("description") or t.get("summary") or "").strip()
            for t in items(self.root.get("tags")) if isinstance(t, dict) and "name" in t
        }  # fmt: skip
        extra = mapping(self.root.get("externalDocs"))
        service = Service(
            f"OpenAPI {version}", str(info.get("version", "")), str(info.get("termsOfService") or ""),
            _strings(info.get("contact")), _strings(info.get("license")), servers,
            read_schemes(self.root.get("securityDefinitions") if self.is_old else components.get("securitySchemes")),
            tags, [], {str(extra.get("description") or "More"): str(extra["url"])} if "url" in extra else {},
        )  # fmt: skip
        doc = self.builder.doc(info, ("info",), summary=str(info.get("summary") or ""))
        title = str(info.get("title") or self.module)
        self.builder.add(self.module, title, "api", ("info",), doc=doc, interface=Interface(service=service))

    def _tell_common_headers(self) -> None:
        """Headers that every operation takes are told once, with the API."""
        symbols = self.builder.reading.symbols
        operations = [s.interface.operation for s in symbols if s.interface and s.interface.operation]
        asked = [o for o in operations if not o.incoming]
        common = _common_headers(asked) if len(asked) > 1 else []
        own = symbols[0].interface
        if common and own is not None and own.service is not None:
            service = replace(own.service, headers=common)
            symbols[0] = replace(symbols[0], interface=replace(own, service=service))

    # Operations ---------------------------------------------------------------------------

    def _path_item(self, path: str, item: Any, document: Document, pointer: Pointer, *, incoming: bool = False,
                   name: str = "") -> list[str]:  # fmt: skip
        item, document, pointer, _ = self.parts.follow(item, document, pointer, "doc")
        found = mapping(item)
        methods = {m: found[m] for m in METHODS if isinstance(found.get(m), dict)}
        if not methods and not mapping(found.get("additionalOperations")):
            return []
        self.builder.take_mentions()
        places = {m: (*pointer, m) for m in methods}
        for method, operation in mapping(found.get("additionalOperations")).items():
            methods[method] = operation
            places[method] = (*pointer, "additionalOperations", method)
        servers = read_servers(found.get("servers"))
        paths = []
        for method in sorted(methods, key=lambda m: document.line(places[m])):
            shared = self.parts.parameters(found.get("parameters"), document, (*pointer, "parameters"))
            paths.append(self._operation(
                method.upper(), path, methods[method], document, places[method], shared=shared, servers=servers,
                incoming=incoming, owner=name,
            ))  # fmt: skip
        return paths

    def _operation(self, method: str, path: str, value: Any, document: Document, pointer: Pointer, *,
                   shared: list[NamedValue], servers: list[Any], incoming: bool, owner: str) -> str:  # fmt: skip
        found = mapping(value)
        held = self.builder.take_mentions()  # Those of the parameters that all operations of the path share.
        identity = str(found.get("operationId") or "")
        spelt = f"{method} {path}"
        symbol = f"{self.module}.{plain_name(identity) if identity else spelt}"
        if owner:
            symbol = f"{owner}.{plain_name(identity)}" if identity else owner
        doc = self.builder.doc(found, pointer)
        parameters = self.parts.parameters(found.get("parameters"), document, (*pointer, "parameters"), shared=shared)
        if isinstance(self.parts, OpenApi2Parts):
            body = self.parts.body_of(found, document, pointer)
        else:
            body = self.parts.body(found.get("requestBody"), document, (*pointer, "requestBody"))
        answers = self.parts.answers(found.get("responses"), document, (*pointer, "responses"))
        security = read_security(found.get("security"))
        mentions = [*held, *self.builder.take_mentions()]
        callbacks = self._callbacks(found.get("callbacks"), document, (*pointer, "callbacks"), symbol)
        operation = Operation(
            method, path, identity, [str(t) for t in items(found.get("tags"))], parameters, body, answers,
            self.security if security is None else security, read_servers(found.get("servers")) or servers,
            callbacks, incoming,
        )  # fmt: skip
        self._use(mentions, incoming)
        self.builder.give_mentions(mentions)
        self._expect_examples(found, document, pointer, operation)
        self._mention_statuses(symbol, found, pointer, document)
        self.builder.add(
            symbol,
            identity or (owner.rpartition(".")[2] if owner else spelt),
            "operation",
            pointer,
            doc=doc,
            interface=Interface(operation=operation),
            parent=self.module,
            text=spelt,
            names=(spelt, f"{self.module}.{spelt}", identity),
        )
        return symbol

    def _mention_statuses(self, symbol: str, found: dict[str, Any], pointer: Pointer, document: Document) -> None:
        """The statuses that an operation's text names, each a reference to its answer."""
        text = found.get("description")
        if not isinstance(text, str) or document is not self.document or not mapping(found.get("responses")):
            return
        for match in _STATUS.finditer(text):
            line = self.builder.line_in(text, match.start(), (*pointer, "description"))
            self.builder.mention_status(match[1], symbol, line)

    def _callbacks(self, value: Any, document: Document, pointer: Pointer, owner: str) -> list[str]:
        made: list[str] = []
        for name, entry in mapping(value).items():
            entry, where, at, _ = self.parts.follow(entry, document, (*pointer, name), "doc")
            for expression, item in mapping(entry).items():
                made += self._path_item(
                    str(expression), item, where, (*at, expression), incoming=True, name=f"{owner}.{plain_name(name)}"
                )
        return made

    def _expect_examples(
        self, found: dict[str, Any], document: Document, pointer: Pointer, operation: Operation
    ) -> None:
        """Hand the written examples of bodies, answers and parameters over to be checked."""
        if self.is_old or document is not self.document:
            return
        body, at = mapping(found.get("requestBody")), (*pointer, "requestBody")
        if "$ref" not in body:
            self._expect_media(body, at, operation.body.media if operation.body else [], "request", "the request")
        for answer in operation.answers:
            held = mapping(mapping(found.get("responses")).get(answer.status))
            if "$ref" not in held:
                place = (*pointer, "responses", answer.status)
                self._expect_media(held, place, answer.media, "response", f"the answer {answer.status}")
        for index, entry in enumerate(items(found.get("parameters"))):
            slot = next((s for s in operation.parameters if s.name == mapping(entry).get("name")), None)
            if slot is not None and not slot.ref:
                self._expect(
                    mapping(entry), (*pointer, "parameters", index), slot.schema, "", f"the parameter {slot.name}"
                )

    def _expect_media(
        self, holder: dict[str, Any], pointer: Pointer, media: list[Any], direction: str, what: str
    ) -> None:
        for entry in media:
            inner = mapping(mapping(holder.get("content")).get(entry.type))
            if "json" in entry.type or not isinstance(inner.get("example"), str):
                self._expect(inner, (*pointer, "content", entry.type), entry.schema, direction, what)

    def _expect(self, holder: dict[str, Any], pointer: Pointer, schema: Schema, direction: str, what: str) -> None:
        for value, name, _, at in iter_examples(self.parts, holder, self.document, pointer):
            told = f"{what} ({name})" if name else what
            self.builder.expect(value, schema, told, direction, self.document, at)

    # Components ---------------------------------------------------------------------------

    def _components(self) -> None:
        base: Pointer = () if self.is_old else ("components",)
        holder = self.root if self.is_old else mapping(self.root.get("components"))
        schemas = "definitions" if self.is_old else "schemas"
        for name, value in mapping(holder.get(schemas)).items():
            self._schema(f"{self.module}.{plain_name(str(name))}", str(name), value, (*base, schemas, name))
        for name, value in mapping(holder.get("responses")).items():
            self._shared_answer(str(name), value, (*base, "responses", name))
        for name, value in mapping(holder.get("parameters")).items():
            self._shared_slot(str(name), value, (*base, "parameters", name))
        for name, value in mapping(holder.get("pathItems")).items():
            self.builder.take_mentions()
            self._path_item(str(name), value, self.document, (*base, "pathItems", name), incoming=True)

    def _schema(self, path: str, name: str, value: Any, pointer: Pointer) -> None:
        held = {k: v for k, v in value.items() if k != "title"} if isinstance(value, dict) else {}
        doc = self.builder.doc(held, pointer)
        schema = self.builder.schema(value, pointer, "schema")
        self.directions.refer(path, self.builder.peek_mentions())
        self.builder.add(
            path,
            name,
            "schema",
            pointer,
            doc=doc,
            interface=Interface(schema=schema),
            parent=self.module,
            names=(name,),
        )

    def _shared_answer(self, name: str, value: Any, pointer: Pointer) -> None:
        path = f"{self.module}.responses.{plain_name(name)}"
        answer = self.parts.answer("", value, self.document, pointer)
        self._expect_media(mapping(value), pointer, answer.media, "response", "the answer")
        mentions = self.builder.peek_mentions()
        self._use(mentions, incoming=False, direction="response")
        doc = self.builder.doc(mapping(value), pointer)
        self.builder.add(
            path, name, "response", pointer, doc=doc, interface=Interface(answer=answer), parent=self.module
        )

    def _shared_slot(self, name: str, value: Any, pointer: Pointer) -> None:
        path = f"{self.module}.parameters.{plain_name(name)}"
        body = self.parts.shared_body(value, self.document, pointer) if isinstance(self.parts, OpenApi2Parts) else None
        if body is not None:
            self.builder.take_mentions()
            return
        slot = self.parts.slot(value, self.document, pointer)
        if slot is None:
            self.builder.take_mentions()
            return
        self._expect(mapping(value), pointer, slot.schema, "request", f"the parameter {slot.name}")
        doc = self.builder.doc(mapping(value), pointer)
        self.builder.add(path, name, "parameter", pointer, doc=doc, interface=Interface(slot=slot), parent=self.module)

    # Directions ---------------------------------------------------------------------------

    def _use(self, mentions: list[Mention], incoming: bool, direction: str = "") -> None:
        for mention in mentions:
            place = direction or mention.field.partition(":")[0]
            if place in _SCHEMA_FIELDS:
                sent = place != "response"
                self.directions.use(mention, "request" if sent != incoming else "response")


def _strings(value: Any) -> dict[str, str]:
    return {str(k): str(v) for k, v in mapping(value).items() if isinstance(v, (str, int, float))}
