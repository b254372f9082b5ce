"""The formats of interface descriptions that can be read, and who reads them."""

from __future__ import annotations

from pkgutil import resolve_name
from typing import Any

from zarbek.core.errors import UnreadableText
from zarbek.core.jsonschema.validation import SchemaSet
from zarbek.core.model.finding import Finding
from zarbek.core.sources.interfaces.document_set import DocumentSet, ReadFile
from zarbek.core.sources.interfaces.documents import Document, read_document
from zarbek.core.sources.interfaces.example_checks import check_examples
from zarbek.core.sources.interfaces.gateways import put_behind
from zarbek.core.sources.interfaces.overlays import OverlayError, apply_overlay
from zarbek.core.sources.interfaces.standard_checks import check_standard
from zarbek.core.sources.interfaces.symbol_builder import SymbolBuilder
from zarbek.core.sources.interfaces.xml_parsing import local, read_xml
from zarbek.core.sources.languages.reading import SourceFile, SourceReading
from zarbek.core.sources.source_text import decode_text

READ = frozenset(
    ("openapi", "asyncapi", "json-schema", "graphql", "protobuf", "xsd", "wsdl", "xml-samples", "json-samples")
)

#: Who reads a format, as MODULE:FUNCTION below this package, looked up at the first file of it: some bring
#: packages that take longer to load than most sources take to read.
_READERS = {
    "openapi": "openapi:read_openapi",
    "asyncapi": "asyncapi:read_asyncapi",
    "json-schema": "jsonschema:read_json_schema",
    "graphql": "graphql:read_graphql",
    "protobuf": "protobuf:read_protobuf",
    "xsd": "xsd:read_xsd",
    "wsdl": "wsdl:read_wsdl",
    "samples": "sample_documents:read_samples",
}


def read_interface(data: bytes, source: SourceFile, read: ReadFile) -> SourceReading:
    """Read one description with what belongs to it. read: other files of the source.

    Raises UnreadableText.
    """
    if source.language in ("openapi", "asyncapi", "json-schema"):
        return _read_described(data, source, read)
    if source.language in ("xsd", "wsdl"):
        return _read_xml(data, source)
    found: SourceReading
    if source.language == "graphql":
        found = _reader("graphql")(decode_text(data), source)
    elif source.language == "protobuf":
        found = _reader("protobuf")({f: decode_text(read(f) or b"") for f in source.options["files"]})
    else:
        found = _reader("samples")(source, read)
    return found


def _read_xml(data: bytes, source: SourceFile) -> SourceReading:
    root = read_xml(data)
    text = decode_text(data)
    wanted = ("schema",) if source.language == "xsd" else ("definitions", "description")
    if local(root) not in wanted:
        raise UnreadableText(f"it holds <{local(root)}> where <{wanted[0]}> was expected", root.sourceline or 1)
    found: SourceReading = _reader(source.language)(root, text, source)
    return found


def _read_described(data: bytes, source: SourceFile, read: ReadFile) -> SourceReading:
    document = read_document(source.file, data)
    if not isinstance(document.value, dict):
        raise UnreadableText("it holds no object", 1)
    options = source.options
    documents = DocumentSet(
        read, dict(e.rpartition("=")[::2] for e in options.get("entries", [])), frozenset(options.get("roots", [])),
        dict(e.rpartition("=")[::2] for e in options.get("remote", [])),
    )  # fmt: skip
    documents.add(document)
    findings = _overlaid(document, documents, options.get("overlays", []))
    findings += check_standard(document, source.language)
    put_behind(document, *options.get("server", [""]), *options.get("strip", []))
    reading, builder = _read(document, source.language, source.module, documents)
    reading.findings += findings + check_examples(builder.examples, _schemas_of(reading, builder))
    return reading


def _schemas_of(reading: SourceReading, builder: SymbolBuilder) -> SchemaSet:
    own = {s.path: s.interface.schema for s in reading.symbols if s.interface and s.interface.schema is not None}
    return SchemaSet(own, builder.foreign_schema)


def _overlaid(document: Document, documents: DocumentSet, overlays: list[str]) -> list[Finding]:
    """Apply the overlays that name this description, in order of their files."""
    found: list[Finding] = []
    for file in overlays:
        overlay = documents.document(file)
        if isinstance(overlay, str):
            reason = overlay.removeprefix("names a file that cannot be read: ")
            found.append(Finding("text/unreadable", "warning", file, f"The overlay was left out: {reason}.", file=file,
                                 line=1))  # fmt: skip
            continue
        if not isinstance(overlay.value, dict):
            continue
        target = documents.find(str(overlay.value.get("extends", "")), file)
        if isinstance(target, str) or target.document is not document:
            continue
        try:
            apply_overlay(document, overlay)
        except OverlayError as error:
            found.append(Finding("text/breaks-standard", "warning", file, f"The overlay was not applied: {error}.",
                                 file=file, line=1))  # fmt: skip
    return found


def _read(
    document: Document, language: str, module: str, documents: DocumentSet
) -> tuple[SourceReading, SymbolBuilder]:
    found: tuple[SourceReading, SymbolBuilder] = _reader(language)(document, module, documents)
    return found


def _reader(language: str) -> Any:
    return resolve_name(f"zarbek.core.sources.interfaces.{_READERS[language]}")
