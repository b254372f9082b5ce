"""JSON Schema files, of any draft, to symbols: the file's schema and its definitions."""

from __future__ import annotations

from typing import Any

from zarbek.core.model.interface import Interface
from zarbek.core.model.web_address import join_address, split_address
from zarbek.core.sources.interfaces.document_set import DocumentSet, plain_name
from zarbek.core.sources.interfaces.documents import Document, Pointer
from zarbek.core.sources.interfaces.symbol_builder import SymbolBuilder, mapping
from zarbek.core.sources.languages.reading import SourceReading


def read_json_schema(document: Document, module: str, documents: DocumentSet) -> tuple[SourceReading, SymbolBuilder]:
    """The file's schema with its ``$id`` as another name, and each of its ``$defs``."""
    builder = SymbolBuilder(document, module, documents, "json-schema")
    root = mapping(document.value)
    path = documents.root_path(document.file)
    identity = _absolute(root)
    _add(builder, path, str(root.get("title") or path.rpartition(".")[2]), root, (), module, identity)
    for section in ("$defs", "definitions"):
        for name, value in mapping(root.get(section)).items():
            other = f"{identity}#/{section}/{name}" if identity else ""
            _add(builder, f"{path}.{plain_name(str(name))}", str(name), mapping(value), (section, name), path, other)
    add_wanted(builder)
    return builder.reading, builder


def _absolute(root: dict[str, Any]) -> str:
    found = root.get("$id") or root.get("id")
    text = found.removesuffix("#") if isinstance(found, str) else ""
    return text if split_address(text).scheme else ""


def _add(
    builder: SymbolBuilder, path: str, name: str, value: dict[str, Any], pointer: Pointer, parent: str, other: str
) -> None:
    doc = builder.doc({k: v for k, v in value.items() if k != "title"}, pointer)
    schema = builder.schema(value, pointer, "schema")
    identity = value.get("$id")
    if not other and isinstance(identity, str) and pointer:
        other = join_address(_absolute(mapping(builder.document.value)), identity)
    builder.add(path, name, "schema", pointer, doc=doc, interface=Interface(schema=schema), parent=parent,
              names=(other,) if "://" in other or other.startswith("urn:") else ())  # fmt: skip


def add_wanted(builder: SymbolBuilder) -> None:
    """Schemas in files of their own that nothing else reads."""
    builder.add_wanted(lambda path, name, value, pointer: _add(builder, path, name, value, pointer, builder.module, ""))
