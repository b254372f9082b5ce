"""XML Schema (1.0 and 1.1) to symbols with their content models.

Sources: W3C XML Schema Definition Language 1.1, parts 1 (structures) and 2 (datatypes).
"""

from __future__ import annotations

import re
from typing import Any

from lxml import etree

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Doc
from zarbek.core.model.interface import Interface, Particle, Service
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.symbol import Signature, Symbol
from zarbek.core.model.web_address import split_address
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.interfaces.document_set import plain_name
from zarbek.core.sources.interfaces.xml_parsing import local, text_of
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown

XS = "http://www.w3.org/2001/XMLSchema"
_SYMBOLS = {
    "element": "element", "complexType": "complex type", "simpleType": "simple type", "group": "element group",
    "attributeGroup": "attribute group", "attribute": "attribute", "notation": "notation",
}  # fmt: skip
#: What is added to a name where several kinds of components share it (part 1, section 2.5).
_MARKS = {"complexType": " type", "simpleType": " type", "group": " group", "attributeGroup": " attributes",
          "attribute": " attribute", "notation": " notation"}  # fmt: skip
_FACETS = (
    "length minLength maxLength pattern enumeration whiteSpace maxInclusive maxExclusive minExclusive minInclusive "
    "totalDigits fractionDigits assertion explicitTimezone"
).split()
_VERSION = re.compile(r"v?\d[\d.]*\Z")
MAX_PARTS = 4000


def module_of_namespace(uri: str, fallback: str) -> str:
    """A short name for a target namespace: the last part of it that is more than a version."""
    parts = [p for p in re.split(r"[/:#]", (split_address(uri).path or uri) if "://" in uri else uri) if p]
    named = [p for p in parts if not _VERSION.match(p)]
    return plain_name(named[-1]) if named else fallback


def read_xsd(root: Any, text: str, source: SourceFile) -> SourceReading:
    """The symbols of one schema document. root: its ``schema`` element."""
    return _XsdReader(root, text, source).read()


class _XsdReader:
    def __init__(self, root: Any, text: str, source: SourceFile) -> None:
        self.root, self.source, self.lines = root, source, text.split("\n")
        self.target = root.get("targetNamespace") or ""
        self.module = module_of_namespace(self.target, source.module)
        self.reading = SourceReading(parts=[ModulePart(Scope(source.file, self.module, language="xsd"))])
        self.sink = MentionSink(self.lines, "type")
        self.named: dict[tuple[str, str], str] = {}
        self.parts = 0

    def read(self) -> SourceReading:
        components = list(self._components(self.root))
        taken = {c.get("name") for c in components if local(c) == "element"}
        for c in components:
            name = c.get("name") or ""
            clash = local(c) != "element" and name in taken
            self.named[_space(c), name] = f"{self.module}.{plain_name(name)}" + (_MARKS[local(c)] if clash else "")
        self._schema()
        for component in components:
            self._component(component)
        return self.reading

    def _components(self, holder: Any) -> Any:
        for child in holder:
            kind = local(child)
            if kind in _SYMBOLS and child.get("name"):
                yield child
            elif kind in ("redefine", "override"):
                yield from self._components(child)

    def _schema(self) -> None:
        doc = self._doc(self.root)
        imports = [c for c in self.root if local(c) in ("include", "import", "redefine", "override")]
        said = {
            f"{local(c)}: {c.get('schemaLocation') or c.get('namespace') or ''}": c.get("namespace") or ""
            for c in imports
        }
        version = self.root.get("version") or ""
        service = Service("XML Schema", version, documents=said)
        name = self.target or self.module
        self._add(self.root, self.module, name, "api", f"namespace {self.target}" if self.target else "no namespace",
                  doc, parent="", interface=Interface(service=service), names=(self.target,))  # fmt: skip

    # Components ---------------------------------------------------------------------------

    def _component(self, node: Any) -> None:
        path = self.named[_space(node), node.get("name")]
        self._declare(node, path, self.module)

    def _declare(self, node: Any, path: str, parent: str) -> None:
        """One component or local declaration, and what is declared in it."""
        kind, name = local(node), node.get("name") or ""
        doc = self._doc(node)
        self.sink.mentions = [*self.sink.mentions]
        body = _child(node, "complexType", "simpleType") if kind in ("element", "attribute") else node
        form = local(body) if body is not None else ""
        type_text = self._named_type(node, "type")
        if not type_text and body is not node and form == "simpleType":
            type_text = self._base_of(body)
        content = self._content_of(node, kind, body, form)
        base = self._base_of(body) if form in ("complexType", "simpleType") else ""
        bases = [b for b in (base, self._reference(node.get("substitutionGroup"), node, "element", "base")) if b]
        facets = self._facets(body) if body is not None else {}
        is_global = parent == self.module
        self._add(
            node,
            path,
            name,
            _SYMBOLS[kind],
            _declaration(node, type_text, base),
            doc,
            parent=parent,
            bases=bases,
            type=type_text,
            value=node.get("fixed") or node.get("default") or "",
            flags=_flags(node, body, is_global=is_global),
            interface=Interface(content=content, schema=facets or None, source=_source(node)),
            names=(f"{self.target}#{name}",) if is_global and self.target and kind == "element" else (),
        )
        if body is not None:
            self._members(body, path)

    def _content_of(self, node: Any, kind: str, body: Any, form: str) -> Particle | None:
        if kind == "group":
            return self._particle(_child(node, "sequence", "choice", "all"))
        return self._content(body) if form == "complexType" else None

    def _members(self, holder: Any, path: str) -> None:
        """Local elements and attributes, wherever in the content model they stand."""
        for child in holder:
            kind = local(child)
            if kind in ("element", "attribute") and child.get("name"):
                self._declare(
                    child, f"{path}.{'@' if kind == 'attribute' else ''}{plain_name(child.get('name'))}", path
                )
            elif kind in ("sequence", "choice", "all", "complexContent", "simpleContent", "extension", "restriction"):
                self._members(child, path)
            elif kind == "attributeGroup" and child.get("ref"):
                self._reference(child.get("ref"), child, "attributeGroup", "type")

    # Content models -----------------------------------------------------------------------

    def _content(self, node: Any) -> Particle | None:
        """What a complex type holds; an extension after what it extends."""
        derived = _child(_child(node, "complexContent", "simpleContent"), "extension", "restriction")
        holder = derived if derived is not None else node
        own = self._particle(_child(holder, "sequence", "choice", "all", "group"))
        if derived is not None and local(derived) == "extension" and local(derived.getparent()) == "complexContent":
            base = derived.get("base") or ""
            inherited = Particle("group", base.rpartition(":")[2], self._path_of(base, derived, "type"))
            return Particle("sequence", parts=[inherited, *([own] if own else [])])
        return own

    def _particle(self, node: Any) -> Particle | None:
        if node is None:
            return None
        self.parts += 1
        if self.parts > MAX_PARTS:
            return None
        kind = local(node)
        least = _count(node.get("minOccurs"))
        most = -1 if node.get("maxOccurs") == "unbounded" else _count(node.get("maxOccurs"))
        if kind in ("sequence", "choice", "all"):
            parts = [p for child in node if local(child) and (p := self._particle(child)) is not None]
            return Particle(kind, least=least, most=most, parts=parts)
        if kind in ("element", "group"):
            reference = node.get("ref")
            if reference:
                target = self._reference(reference, node, kind, "schema")
                return Particle(kind, reference.rpartition(":")[2], target, least=least, most=most)
            inner = _child(node, "complexType")
            parts = [p for p in (self._content(inner),) if p] if inner is not None else []
            type_name = node.get("type") or ""
            target = self._path_of(type_name, node, "type")
            return Particle(kind, node.get("name") or "", target, type_name.rpartition(":")[2], least, most, parts)
        return Particle("any", node.get("namespace") or "##any", least=least, most=most) if kind == "any" else None

    # References ---------------------------------------------------------------------------

    def _qualified(self, name: str, node: Any) -> tuple[str, str]:
        prefix, colon, rest = name.rpartition(":")
        return (node.nsmap.get(prefix if colon else None) or ("" if colon else self.target)), rest

    def _path_of(self, name: str, node: Any, space: str) -> str:
        """The path of a component of this or another schema; empty for the standard's own."""
        if not name:
            return ""
        uri, rest = self._qualified(name, node)
        if uri in (XS, "http://www.w3.org/XML/1998/namespace"):
            return ""
        known = self.named.get((space, rest))
        if known and uri in (self.target, ""):
            return known
        return f"{module_of_namespace(uri, self.module)}.{plain_name(rest)}"

    def _reference(self, name: str | None, node: Any, kind: str, origin: Origin) -> str:
        """The path that a reference leads to; the mention of it is kept."""
        if not name:
            return ""
        space = "type" if kind in ("complexType", "simpleType", "type") else kind
        path = self._path_of(name, node, space)
        if path:
            line = node.sourceline or 1
            column = self.lines[line - 1].find(name) + 1 if line <= len(self.lines) else 0
            uri, _ = self._qualified(name, node)
            own = uri in (self.target, "")
            self.sink.mentions.append(
                Mention(name, f"api:{path}" if own else path, "schema" if own else origin, "type", line, column)
            )
        return path

    def _named_type(self, node: Any, attribute: str) -> str:
        name = node.get(attribute) or ""
        self._reference(name, node, "type", "type")
        return name

    def _base_of(self, body: Any) -> str:
        """What a type is derived from; of lists and unions what they are made of."""
        inner = _child(body, "restriction", "list", "union")
        if inner is None:
            inner = _child(_child(body, "complexContent", "simpleContent"), "extension", "restriction")
        if inner is None:
            return ""
        if local(inner) == "union":
            members = (inner.get("memberTypes") or "").split()
            for name in members:
                self._reference(name, inner, "type", "base")
            return " | ".join(members)
        name = inner.get("base") or inner.get("itemType") or ""
        self._reference(name, inner, "type", "base")
        return f"list of {name}" if local(inner) == "list" and name else name

    def _facets(self, body: Any) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for node in body.iter():
            kind = local(node)
            if kind in _FACETS:
                value = node.get("value") or node.get("test") or ""
                if kind in ("enumeration", "pattern", "assertion"):
                    found.setdefault(kind, []).append(value)
                else:
                    found[kind] = value
            elif node is not body and kind in ("element", "attribute"):
                return {k: v for k, v in found.items() if local(body) == "simpleType"}
        return found

    # Texts --------------------------------------------------------------------------------

    def _doc(self, node: Any) -> Doc | None:
        annotation = _child(node, "annotation")
        parts = [d for d in annotation if local(d) == "documentation"] if annotation is not None else []
        text = "\n\n".join(text_of(d) for d in parts)
        if not text:
            return None
        line = parts[0].sourceline or 1
        first = text.split("\n", 1)[0]
        start = line if line <= len(self.lines) and first in self.lines[line - 1] else line + 1
        self.sink.field = "doc"
        convert_markdown(text.split("\n"), start, self.sink)
        self.sink.field = "type"
        head, body = split_summary(text)
        return Doc(head, body, line=start)

    def _add(self, node: Any, path: str, name: str, kind: str, text: str, doc: Doc | None, *, parent: str,
             bases: list[str] | None = None, type: str = "", value: str = "", flags: list[str] | None = None,
             interface: Interface | None = None, names: tuple[str, ...] = ()) -> None:  # fmt: skip
        mentions, self.sink.mentions = self.sink.mentions, []
        line = node.sourceline or 1
        self.reading.symbols.append(Symbol(
            path=path, name=name, kind=kind, language="xsd", module=self.module, parent=parent, file=self.source.file,
            line=line, end_line=line, signatures=[Signature(text=text)], bases=bases or [], type=type, value=value,
            flags=flags or [], doc=doc, mentions=mentions, interface=interface,
        ))  # fmt: skip
        self.reading.names += [(other, path) for other in names if other]


def _count(text: str | None) -> int:
    """A number of times; once where it is left out or no number."""
    return int(text) if text and text.isdecimal() else 1


def _space(node: Any) -> str:
    return "type" if local(node) in ("complexType", "simpleType") else local(node)


def _child(node: Any, *kinds: str) -> Any:
    return next((c for c in node if local(c) in kinds), None) if node is not None else None


def _flags(node: Any, body: Any, *, is_global: bool) -> list[str]:
    """XML Schema 1.1, part 1: what an attribute of the declaration, or of its type, says of it."""
    holders = [node] if body is None else [node, body]
    flags = [
        f for f in ("abstract", "nillable", "mixed") if next((v for h in holders if (v := h.get(f))), "") == "true"
    ]
    is_needed = node.get("use") == "required" if local(node) == "attribute" else (
        local(node) == "element" and not is_global and node.get("minOccurs", "1") != "0")  # fmt: skip
    return [*flags, "required"] if is_needed else flags


def _declaration(node: Any, type_text: str, base: str) -> str:
    kind, name = local(node), node.get("name") or ""
    if kind in ("element", "attribute"):
        mark = "@" if kind == "attribute" else ""
        typed = f": {type_text}" if type_text else ""
        fixed = f' = "{node.get("fixed") or node.get("default")}"' if node.get("fixed") or node.get("default") else ""
        group = node.get("substitutionGroup")
        return f"{mark}{name}{typed}{fixed}" + (f" in place of {group}" if group else "")
    return f"{_SYMBOLS[kind]} {name}" + (f" : {base}" if base else "")


def _source(node: Any) -> str:
    """The declaration without its annotations, as written but for blanks around it."""
    text = etree.tostring(node, encoding="unicode", with_tail=False)
    text = re.sub(r'\sxmlns(?::\w+)?="[^"]*"', "", text)
    text = re.sub(r"\s*<(\w+:)?annotation\b.*?</(\w+:)?annotation>", "", text, flags=re.DOTALL)
    lines = text.split("\n")
    indent = min((len(row) - len(row.lstrip()) for row in lines[1:] if row.strip()), default=0)
    shown = "\n".join([lines[0], *(row[max(indent - 0, 0) :] if row.strip() else "" for row in lines[1:])])
    return shown if len(shown) <= 6000 else ""
