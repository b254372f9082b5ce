"""The formats of interface descriptions that can be read, and who reads them."""

from __future__ import annotations

from importlib import import_module

from zarbek.core.jsonschema.validation import SchemaSet
from zarbek.core.model.finding import Finding
from zarbek.core.sources.interfaces.document_set import DocumentSet, ReadFile
from zarbek.core.sources.interfaces.documents import Document, read_document
from zarbek.core.sources.interfaces.example_checks import check_examples
from zarbek.core.sources.interfaces.gateways import put_behind
from zarbek.core.sources.interfaces.standard_checks import check_standard
from zarbek.core.sources.interfaces.symbol_builder import SymbolBuilder
from zarbek.core.sources.languages.reading import SourceFile, SourceReading
from zarbek.core.sources.source_text import UnreadableText, decode_text

READ = frozenset(
    ("openapi", "asyncapi", "json-schema", "graphql", "protobuf", "xsd", "wsdl", "xml-samples", "json-samples")
)


def read_interface(data: bytes, source: SourceFile, read: ReadFile) -> SourceReading:
    """Read one description with what belongs to it. read: other files of the source.

    Raises UnreadableText.
    """
    if source.language in ("openapi", "asyncapi", "json-schema"):
        return _read_described(data, source, read)
    if source.language == "graphql":
        from zarbek.core.sources.interfaces.graphql import read_graphql

        return read_graphql(decode_text(data), source)
    if source.language == "protobuf":
        from zarbek.core.sources.interfaces.protobuf import read_protobuf

        return read_protobuf({f: decode_text(read(f) or b"") for f in source.options["files"]})
    if source.language in ("xsd", "wsdl"):
        return _read_xml(data, source)
    from zarbek.core.sources.interfaces.sample_documents import read_samples

    return read_samples(source, read)


def _read_xml(data: bytes, source: SourceFile) -> SourceReading:
    from zarbek.core.sources.interfaces.wsdl import read_wsdl
    from zarbek.core.sources.interfaces.xml_parsing import local, read_xml
    from zarbek.core.sources.interfaces.xsd import read_xsd

    root = read_xml(data)
    text = decode_text(data)
    wanted = ("schema",) if source.language == "xsd" else ("definitions", "description")
    if local(root) not in wanted:
        raise UnreadableText(f"it holds <{local(root)}> where <{wanted[0]}> was expected", root.sourceline or 1)
    return read_xsd(root, text, source) if source.language == "xsd" else read_wsdl(root, text, source)


def _read_described(data: bytes, source: SourceFile, read: ReadFile) -> SourceReading:
    document = read_document(source.file, data)
    if not isinstance(document.value, dict):
        raise UnreadableText("it holds no object", 1)
    options = source.options
    library = DocumentSet(
        read, dict(e.rpartition("=")[::2] for e in options.get("entries", [])), frozenset(options.get("roots", [])),
        dict(e.rpartition("=")[::2] for e in options.get("remote", [])),
    )  # fmt: skip
    library.add(document)
    findings = _overlaid(document, library, options.get("overlays", []))
    findings += check_standard(document, source.language)
    put_behind(document, *options.get("server", [""]), *options.get("strip", []))
    reading, draft = _read(document, source.language, source.module, library)
    reading.findings += findings + check_examples(draft.examples, _schemas_of(reading, draft))
    return reading


def _schemas_of(reading: SourceReading, draft: SymbolBuilder) -> SchemaSet:
    own = {s.path: s.interface.schema for s in reading.symbols if s.interface and s.interface.schema is not None}
    return SchemaSet(own, draft.foreign_schema)


def _overlaid(document: Document, library: DocumentSet, overlays: list[str]) -> list[Finding]:
    """Apply the overlays that name this description, in order of their files."""
    from zarbek.core.sources.interfaces.overlays import OverlayError, apply_overlay

    found: list[Finding] = []
    for file in overlays:
        overlay = library.document(file)
        if isinstance(overlay, str):
            reason = overlay.removeprefix("names a file that cannot be read: ")
            found.append(Finding("text/unreadable", "warning", file, f"The overlay was left out: {reason}.", file=file,
                                 line=1))  # fmt: skip
            continue
        if not isinstance(overlay.value, dict):
            continue
        target = library.find(str(overlay.value.get("extends", "")), file)
        if isinstance(target, str) or target.document is not document:
            continue
        try:
            apply_overlay(document, overlay)
        except OverlayError as error:
            found.append(Finding("text/breaks-standard", "warning", file, f"The overlay was not applied: {error}.",
                                 file=file, line=1))  # fmt: skip
    return found


_READERS = {
    "openapi": ("openapi", "read_openapi"), "asyncapi": ("asyncapi", "read_asyncapi"),
    "json-schema": ("jsonschema", "read_json_schema"),
}  # fmt: skip


def _read(document: Document, language: str, module: str, library: DocumentSet) -> tuple[SourceReading, SymbolBuilder]:
    name, function = _READERS[language]
    found: tuple[SourceReading, SymbolBuilder] = getattr(
        import_module(f"zarbek.core.sources.interfaces.{name}"), function)(document, module, library)  # fmt: skip
    return found
