"""WSDL 1.1 and 2.0 to symbols: the service, its operations, the types that it embeds.

Sources: W3C Note WSDL 1.1, section 2; W3C Recommendation WSDL 2.0 part 1, section 2.
"""

from __future__ import annotations

from typing import Any

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.interface import Answer, Body, Interface, Media, Operation, Server, Service
from zarbek.core.model.mention import Mention
from zarbek.core.model.symbol import Signature, Symbol
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.interfaces.document_set import plain_name
from zarbek.core.sources.interfaces.symbol_builder import list_operations
from zarbek.core.sources.interfaces.xml_parsing import local, text_of
from zarbek.core.sources.interfaces.xsd import XS, module_of_namespace, read_xsd
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading

_MEDIA = "text/xml"


def read_wsdl(root: Any, text: str, source: SourceFile) -> SourceReading:
    """The symbols of one description. root: its ``definitions`` (1.1) or ``description`` (2.0)."""
    return _WsdlReader(root, text, source).read()


def _address_of(port: Any) -> str:
    """WSDL 2.0 writes it in the endpoint, 1.1 in an element of the binding's own."""
    return str(port.get("address") or next((c.get("location") for c in port if c.get("location")), ""))


class _WsdlReader:
    def __init__(self, root: Any, text: str, source: SourceFile) -> None:
        self.root, self.text, self.source = root, text, source
        self.lines = text.split("\n")
        self.target = root.get("targetNamespace") or ""
        self.module = source.module or module_of_namespace(self.target, "service")
        self.reading = SourceReading(parts=[ModulePart(Scope(source.file, self.module, language="wsdl"))])
        self.is_old = local(root) == "definitions"
        self.messages = {m.get("name"): m for m in root if local(m) == "message"}
        self.mentions: list[Mention] = []

    def read(self) -> SourceReading:
        self._service()
        for port in self.root:
            if local(port) in ("portType", "interface"):
                for operation in port:
                    if local(operation) == "operation":
                        self._operation(operation, port)
        for types in self.root:
            if local(types) == "types":
                for schema in types:
                    if schema.tag == f"{{{XS}}}schema":
                        self._types(schema)
        list_operations(self.reading.symbols)
        return self.reading

    def _types(self, schema: Any) -> None:
        reading = read_xsd(schema, self.text, self.source)
        self.reading.symbols += [s for s in reading.symbols if s.path != self.module]
        self.reading.parts += reading.parts
        self.reading.names += reading.names

    def _service(self) -> None:
        services = [s for s in self.root if local(s) == "service"]
        ports = [port for service in services for port in service if local(port) in ("port", "endpoint")]
        servers = [Server(address, port.get("name") or "") for port in ports if (address := _address_of(port))]
        version = "1.1" if self.is_old else "2.0"
        name = self.root.get("name") or next((s.get("name") for s in services if s.get("name")), self.module)
        service = Service(f"WSDL {version}", servers=servers)
        self._add(self.root, self.module, name, "api", "", self._doc(self.root), Interface(service=service), parent="")

    def _operation(self, node: Any, port: Any) -> None:
        name = node.get("name") or "operation"
        path = f"{self.module}.{plain_name(name)}"
        request = [m for child in node if local(child) == "input" for m in self._media(child, "request")]
        answers = [
            Answer("fault" if local(child) in ("fault", "outfault") else "answer",
                   self._said(child) or child.get("name") or "", media=self._media(child, "response"))
            for child in node if local(child) in ("output", "fault", "outfault")
        ]  # fmt: skip
        operation = Operation("CALL", name, name, [port.get("name") or ""], body=Body(request) if request else None,
                              answers=answers)  # fmt: skip
        self._add(node, path, name, "operation", f"CALL {name}", self._doc(node), Interface(operation=operation),
                  parent=self.module, names=(name,))  # fmt: skip

    def _media(self, node: Any, field: str) -> list[Media]:
        """The XML element that a message holds; several parts are several forms here."""
        name = (node.get("message") or "").rpartition(":")[2]
        message = self.messages.get(name)
        if message is None:
            element = node.get("element")
            return [self._form(element, node, field, element.rpartition(":")[2])] if element else []
        return [
            self._form(part.get("element") or part.get("type"), part, field, part.get("name") or name)
            for part in message if local(part) == "part" and (part.get("element") or part.get("type"))
        ]  # fmt: skip

    def _form(self, reference: str, node: Any, field: str, name: str) -> Media:
        prefix, _, rest = reference.rpartition(":")
        uri = node.nsmap.get(prefix or None) or self.target
        if uri == XS:
            return Media(_MEDIA, {"type": "string"}, name=name)
        path = f"{module_of_namespace(uri, self.module)}.{plain_name(rest)}"
        line = node.sourceline or 1
        self.mentions.append(
            Mention(reference, f"api:{path}", "schema", field, line, self.lines[line - 1].find(reference) + 1)
        )
        return Media(_MEDIA, {"$ref": f"api:{path}"}, name=name)

    def _said(self, node: Any) -> str:
        return next((text_of(c) for c in node if local(c) == "documentation"), "")

    def _doc(self, node: Any) -> Doc | None:
        head, body = split_summary(self._said(node))
        return Doc(head, body, line=node.sourceline or 1) if head or body else None

    def _add(self, node: Any, path: str, name: str, kind: str, text: str, doc: Doc | None, interface: Interface, *,
             parent: str, names: tuple[str, ...] = ()) -> None:  # fmt: skip
        mentions, self.mentions = self.mentions, []
        line = node.sourceline or 1
        self.reading.symbols.append(Symbol(
            path=path, name=name, kind=kind, language="wsdl", module=self.module, parent=parent, file=self.source.file,
            line=line, end_line=line, signatures=[Signature(text=text)] if text else [], doc=doc, mentions=mentions,
            interface=interface,
        ))  # fmt: skip
        self.reading.names += [(other, path) for other in names]
