"""AsyncAPI descriptions (2.x and 3.x) to symbols: the API, what is sent and received, messages, schemas.

Sources: AsyncAPI Specification 2.6.0 and 3.1.0. Of 2.x, ``subscribe`` is what the described
application sends and ``publish`` what it receives (2.6.0, "Channel Item Object").
"""

from __future__ import annotations

from typing import Any

from zarbek.core.model.interface import Answer, Body, Interface, Media, NamedValue, Operation, Server, Service
from zarbek.core.sources.interfaces.document_set import DocumentSet, plain_name
from zarbek.core.sources.interfaces.documents import Document, Pointer
from zarbek.core.sources.interfaces.jsonschema import add_wanted
from zarbek.core.sources.interfaces.openapi3_parts import OpenApi3Parts, read_schemes, read_security
from zarbek.core.sources.interfaces.schema_directions import Directions
from zarbek.core.sources.interfaces.symbol_builder import (
    SymbolBuilder,
    example_of,
    is_json_type,
    items,
    list_operations,
    mapping,
)
from zarbek.core.sources.languages.reading import SourceReading

_JSON_FORMATS = ("json", "asyncapi", "openapi", "yaml")


def read_asyncapi(document: Document, module: str, documents: DocumentSet) -> tuple[SourceReading, SymbolBuilder]:
    """The symbols of one description."""
    return _AsyncApiReader(document, module, documents).read()


class _AsyncApiReader:
    def __init__(self, document: Document, module: str, documents: DocumentSet) -> None:
        self.builder = SymbolBuilder(document, module, documents, "asyncapi")
        self.document, self.module = document, module
        self.root = mapping(document.value)
        self.parts = OpenApi3Parts(self.builder)
        self.media_type = str(self.root.get("defaultContentType") or "application/json")
        self.directions = Directions()

    def read(self) -> tuple[SourceReading, SymbolBuilder]:
        self._service()
        if str(self.root.get("asyncapi", "")).startswith("2"):
            self._channels_of_two()
        else:
            self._operations_of_three()
        components = mapping(self.root.get("components"))
        for name, value in mapping(components.get("messages")).items():
            self._message(str(name), value, ("components", "messages", name))
        for name, value in mapping(components.get("schemas")).items():
            pointer = ("components", "schemas", name)
            doc = self.builder.doc({k: v for k, v in mapping(value).items() if k != "title"}, pointer)
            schema = self.builder.schema(value, pointer, "schema")
            path = f"{self.module}.{plain_name(str(name))}"
            self.directions.refer(path, self.builder.peek_mentions())
            self.builder.add(
                path,
                str(name),
                "schema",
                pointer,
                doc=doc,
                interface=Interface(schema=schema),
                names=(str(name),),
                parent=self.module,
            )
        add_wanted(self.builder)
        self.directions.mark(self.builder.reading.symbols)
        list_operations(self.builder.reading.symbols)
        return self.builder.reading, self.builder

    def _service(self) -> None:
        info = mapping(self.root.get("info"))
        servers = [self._server(name, entry) for name, entry in mapping(self.root.get("servers")).items()]
        tags = [t for t in items(info.get("tags")) or items(self.root.get("tags")) if isinstance(t, dict)]
        service = Service(
            f"AsyncAPI {self.root.get('asyncapi', '')}", str(info.get("version", "")),
            str(info.get("termsOfService") or ""),
            {str(k): str(v) for k, v in mapping(info.get("contact")).items()},
            {str(k): str(v) for k, v in mapping(info.get("license")).items()}, servers,
            read_schemes(mapping(self.root.get("components")).get("securitySchemes")),
            {str(t["name"]): str(t.get("description") or "").strip() for t in tags if "name" in t},
        )  # fmt: skip
        doc = self.builder.doc({k: v for k, v in info.items() if k != "title"}, ("info",))
        self.builder.add(self.module, str(info.get("title") or self.module), "api", ("info",), doc=doc,
                       interface=Interface(service=service))  # fmt: skip

    def _server(self, name: str, entry: Any) -> Server:
        """2.x writes a URL and a protocol, 3.x a host and a path."""
        value, _, _, _ = self.parts.follow(entry, self.document, ("servers", name), "doc")
        found = mapping(value)
        address = str(found.get("url") or f"{found.get('host', '')}{found.get('pathname', '')}")
        protocol = str(found.get("protocol") or "")
        url = address if "://" in address or not protocol else f"{protocol}://{address}"
        variables = {str(k): str(mapping(v).get("default", "")) for k, v in mapping(found.get("variables")).items()}
        return Server(url, str(found.get("description") or name).strip(), variables)

    # Operations ---------------------------------------------------------------------------

    def _channels_of_two(self) -> None:
        for address, item in mapping(self.root.get("channels")).items():
            value, where, at, _ = self.parts.follow(item, self.document, ("channels", address), "doc")
            channel = mapping(value)
            slots = self._slots(channel, where, at)
            for word, method in (("subscribe", "SEND"), ("publish", "RECEIVE")):
                operation = mapping(channel.get(word))
                if operation:
                    message = operation.get("message")
                    several = mapping(message).get("oneOf")
                    base = (*at, word, "message")
                    messages = [(m, where, (*base, "oneOf", n)) for n, m in enumerate(items(several))] or (
                        [(message, where, base)] if message else []
                    )
                    said = {**operation, "description": operation.get("description") or channel.get("description")}
                    self._operation(method, str(address), str(operation.get("operationId") or ""), said, (*at, word),
                                    messages, slots)  # fmt: skip

    def _operations_of_three(self) -> None:
        for name, entry in mapping(self.root.get("operations")).items():
            value, where, at, _ = self.parts.follow(entry, self.document, ("operations", name), "doc")
            operation = mapping(value)
            method = "SEND" if operation.get("action") == "send" else "RECEIVE"
            held, place, pointer, _ = self.parts.follow(operation.get("channel"), where, (*at, "channel"), "doc")
            channel = mapping(held)
            if isinstance(operation.get("messages"), list):
                messages = [(m, where, (*at, "messages", n)) for n, m in enumerate(operation["messages"])]
            else:
                messages = [
                    (m, place, (*pointer, "messages", key)) for key, m in mapping(channel.get("messages")).items()
                ]
            said = {**operation, "description": operation.get("description") or channel.get("description")}
            address = str(channel.get("address") or name)
            self._operation(method, address, str(name), said, at, messages, self._slots(channel, place, pointer))

    def _slots(self, channel: dict[str, Any], document: Document, pointer: Pointer) -> list[NamedValue]:
        made = []
        for name, entry in mapping(channel.get("parameters")).items():
            value, where, at, _ = self.parts.follow(entry, document, (*pointer, "parameters", name), "doc")
            found = mapping(value)
            plain = found.get("schema") or {
                "type": "string", **{k: found[k] for k in ("enum", "default", "examples") if k in found}
            }  # fmt: skip
            schema = self.builder.schema(plain, (*at, "schema"), f"parameter:{name}", where)
            made.append(
                NamedValue(str(name), "path", schema, str(found.get("description") or "").strip(), required=True)
            )
        return made

    def _operation(self, method: str, address: str, identity: str, said: dict[str, Any], pointer: Pointer,
                   messages: list[tuple[Any, Document, Pointer]], slots: list[NamedValue]) -> None:  # fmt: skip
        field = "response" if method == "SEND" else "request"
        media = [m for value, where, at in messages for m in self._media(value, where, at, field)]
        mentions = self.builder.take_mentions()
        doc = self.builder.doc({k: v for k, v in said.items() if v is not None}, pointer)
        spelt = f"{method} {address}"
        operation = Operation(
            method, address, identity, [str(mapping(t).get("name", "")) for t in items(said.get("tags"))], slots,
            Body(media) if media else None, [], read_security(said.get("security")) if "security" in said else None,
        )  # fmt: skip
        for mention in mentions:
            self.directions.use(mention, field)
        self.builder.give_mentions(mentions)
        path = f"{self.module}.{plain_name(identity) if identity else spelt}"
        self.builder.add(path, identity or spelt, "operation", pointer, doc=doc,
                         interface=Interface(operation=operation), parent=self.module, text=spelt,
                         names=(spelt, f"{self.module}.{spelt}", identity))  # fmt: skip

    # Messages -----------------------------------------------------------------------------

    def _media(self, value: Any, document: Document, pointer: Pointer, field: str) -> list[Media]:
        """One form of body a message; a shared message by its name."""
        value, where, at, ref = self.parts.follow(value, document, pointer, field)
        found = mapping(value)
        if not found:
            return []
        kind = str(found.get("contentType") or self.media_type)
        name = str(
            found.get("name") or found.get("title") or (ref.rpartition(".")[2] if ref else at[-1] if at else "message")
        )
        if ref:
            return [Media(kind, {"$ref": f"api:{ref}"}, self._examples(found, kind), name)]
        return [Media(kind, self._payload(found, where, at, field), self._examples(found, kind), name)]

    def _payload(self, found: dict[str, Any], document: Document, pointer: Pointer, field: str) -> dict[str, Any]:
        payload = found.get("payload")
        held = mapping(payload)
        form = str(held.get("schemaFormat") or found.get("schemaFormat") or "json")
        if "schemaFormat" in held:
            payload, pointer = held.get("schema"), (*pointer, "payload", "schema")
        else:
            pointer = (*pointer, "payload")
        return self.builder.schema(payload, pointer, field, document) if any(f in form for f in _JSON_FORMATS) else {}

    def _examples(self, found: dict[str, Any], kind: str) -> list[Any]:
        return [
            example_of(e["payload"], str(e.get("name") or ""), str(e.get("summary") or ""), is_json=is_json_type(kind))
            for e in items(found.get("examples")) if isinstance(e, dict) and "payload" in e
        ]  # fmt: skip

    def _message(self, name: str, value: Any, pointer: Pointer) -> None:
        value, where, at, _ = self.parts.follow(value, self.document, pointer, "schema")
        found = mapping(value)
        kind = str(found.get("contentType") or self.media_type)
        payload = self._payload(found, where, at, "schema")
        headers = self.builder.schema(found.get("headers"), (*at, "headers"), "schema", where)
        required = headers.get("required", [])
        slots = [
            NamedValue(str(n), "header", s, str(s.get("description") or ""), n in required)
            for n, s in mapping(headers.get("properties")).items()
        ]  # fmt: skip
        for index, example in enumerate(items(found.get("examples"))):
            if isinstance(example, dict) and "payload" in example:
                told = f"the message ({example['name']})" if example.get("name") else "the message"
                self.builder.expect(example["payload"], payload, told, "", where, (*at, "examples", index, "payload"))
        doc = self.builder.doc({k: v for k, v in found.items() if k != "type"}, pointer)
        path = f"{self.module}.messages.{plain_name(name)}"
        self.directions.refer(path, self.builder.peek_mentions())
        answer = Answer("", "", slots, [Media(kind, payload, self._examples(found, kind), name)])
        self.builder.add(path, name, "message", pointer, doc=doc, interface=Interface(answer=answer, schema=payload),
                       parent=self.module, names=(f"{self.module}.{plain_name(name)}",))  # fmt: skip
