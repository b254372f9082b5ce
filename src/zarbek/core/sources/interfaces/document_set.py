"""The documents that one description reaches, and what the parts of them are called.

Only files of the same source are read, and remote documents that were brought beforehand; nothing
here opens a connection.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator, Mapping
from pathlib import PurePosixPath
from typing import Any, NamedTuple

from zarbek.core.errors import UnreadableText
from zarbek.core.model.web_address import join_address, split_address
from zarbek.core.sources.interfaces.documents import Document, Pointer, read_document
from zarbek.core.sources.interfaces.pointers import parse_pointer, split_reference, write_pointer

#: File of the source to its bytes, or None where there is no such file.
ReadFile = Callable[[str], bytes | None]
_GENERIC = frozenset("openapi swagger asyncapi api index schema schemas spec description service main v1 v2 v3".split())
_GENERIC_FOLDERS = frozenset("api apis spec specs openapi asyncapi schemas schema src docs v1 v2 v3 .".split())
_PLAIN = re.compile(r"[^A-Za-z0-9_.-]+")
OUTSIDE = "is outside"
_NOT_THERE = "names a file that is not there"
#: Sections of a description whose parts are symbols, and what stands before their names.
_SECTIONS = {
    ("components", "schemas"): "", ("definitions",): "", ("$defs",): "", ("components", "messages"): "messages.",
    ("components", "parameters"): "parameters.", ("components", "responses"): "responses.",
    ("parameters",): "parameters.", ("responses",): "responses.",
}  # fmt: skip


class Place(NamedTuple):
    """A value in a document, by its JSON Pointer."""

    document: Document
    pointer: Pointer


class DocumentSet:
    """entries: file of a description to the module that it is. roots: files that are one schema each.

    remote: absolute URI to the file that holds what it served.
    """

    def __init__(self, read: ReadFile, entries: Mapping[str, str], roots: frozenset[str] = frozenset(),
                 remote: Mapping[str, str] | None = None) -> None:  # fmt: skip
        self._read, self.entries, self.roots, self._remote = read, entries, roots, remote or {}
        self._documents: dict[str, Document | str] = {}
        self._anchors: dict[str, dict[str, Pointer]] = {}
        self._found: dict[tuple[str, str], Place | str] = {}
        self._paths: dict[tuple[str, Pointer], tuple[str, str] | None] = {}

    def add(self, document: Document) -> None:
        """Take a document that has been read."""
        self._documents[document.file] = document

    def find(self, reference: str, base: str) -> Place | str:
        """Where a reference leads, or why it leads nowhere, as words after the reference."""
        known = self._found.get((reference, base))
        if known is None:
            known = self._found[reference, base] = self._find(reference, base)
        return known

    def _find(self, reference: str, base: str) -> Place | str:
        file, fragment = split_reference(reference, base)
        document = self.document(file)
        if isinstance(document, str):
            return OUTSIDE if document == _NOT_THERE and self.identified(reference, base) else document
        pointer = parse_pointer(fragment)
        if pointer is None:
            pointer = self._anchors_of(document).get(fragment)
            if pointer is None:
                return f"has no anchor {fragment}"
        try:
            document.at(pointer)
        except KeyError:
            return "leads to nothing"
        return Place(document, pointer)

    def identified(self, reference: str, base: str) -> str:
        """The address that a relative reference means where its document says by ``$id`` what its own is, or empty
        (JSON Schema 2020-12, core, 8.2.1)."""
        document = self._documents.get(base)
        root = document.value if isinstance(document, Document) and isinstance(document.value, dict) else {}
        identity = root.get("$id")
        if not isinstance(identity, str) or not split_address(identity).scheme or split_address(reference).scheme:
            return ""
        return join_address(identity, reference)

    def path_meant(self, reference: str, base: str) -> str:
        """The path that a reference would have if it led anywhere; empty where that cannot be told."""
        file, fragment = split_reference(reference, base)
        document, pointer = self.document(file), parse_pointer(fragment)
        if isinstance(document, str) or pointer is None:
            return ""
        named = self.path_of(Place(document, pointer))
        return named[0] if named else ""

    def document(self, file: str) -> Document | str:
        """A file's document, read once, or why it cannot be read."""
        known = self._documents.get(file)
        if known is None:
            known = self._documents[file] = self._load(file)
        return known

    def _load(self, file: str) -> Document | str:
        if "://" in file:
            local = self._remote.get(file)
            if local is None:
                return OUTSIDE
            data = self._read(local)
        else:
            data = None if file.startswith("../") else self._read(file)
        if data is None:
            return _NOT_THERE
        try:
            return read_document(file, data)
        except UnreadableText as error:
            return f"names a file that cannot be read: {error}"

    def _anchors_of(self, document: Document) -> dict[str, Pointer]:
        if document.file not in self._anchors:
            self._anchors[document.file] = {
                a: p for p, a in iter_keyword(document.value, ("$anchor", "$dynamicAnchor"), ())
            }
        return self._anchors[document.file]

    # Names --------------------------------------------------------------------------------

    def path_of(self, place: Place) -> tuple[str, str] | None:
        """(path of the symbol, pointer of the part within it, as a fragment); None for what is no
        symbol's part."""
        key = (place.document.file, place.pointer)
        if key not in self._paths:
            self._paths[key] = self._path_of(place)
        return self._paths[key]

    def _path_of(self, place: Place) -> tuple[str, str] | None:
        file, pointer = place.document.file, place.pointer
        names = tuple(str(p) for p in pointer)
        for section, before in _SECTIONS.items():
            size = len(section)
            if names[:size] == section and len(names) > size:
                if file not in self.entries and section[0] not in ("definitions", "$defs"):
                    continue
                owner = self.module_of(file) if file in self.entries else self.root_path(file)
                return f"{owner}.{before}{plain_name(names[size])}", write_pointer(pointer[size + 1 :])
        if file in self.entries:
            return None
        if file in self.roots or not pointer or "://" in file:
            return self.root_path(file), write_pointer(pointer)
        return f"{self.root_path(file)}.{plain_name(names[0])}", write_pointer(pointer[1:])

    def module_of(self, file: str) -> str:
        """The module that a file's names stand below."""
        return self.entries.get(file) or self.root_path(file).rpartition(".")[0]

    def root_path(self, file: str) -> str:
        """Path of what a whole file describes: its folder's name and its own."""
        path = PurePosixPath(file.partition("://")[2] or file)
        return f"{folder_name(path)}.{plain_name(_stem(path))}"


def iter_keyword(value: Any, keywords: tuple[str, ...], at: Pointer) -> Iterator[tuple[Pointer, str]]:
    """Every place of a keyword with a text, with the pointer of what holds it; iterative, for depth."""
    stack: list[tuple[Any, Pointer]] = [(value, at)]
    while stack:
        found, pointer = stack.pop()
        if isinstance(found, dict):
            for word in keywords:
                if isinstance(found.get(word), str):
                    yield pointer, found[word]
            stack += [(inner, (*pointer, key)) for key, inner in found.items()]
        elif isinstance(found, list):
            stack += [(inner, (*pointer, index)) for index, inner in enumerate(found)]


def plain_name(text: str) -> str:
    """A name as it can stand in a path: without separators of its own but dots and hyphens."""
    return _PLAIN.sub("-", text).strip("-") or "unnamed"


def _stem(path: PurePosixPath) -> str:
    name = path.name
    for ending in (
        ".json",
        ".yaml",
        ".yml",
        ".xsd",
        ".wsdl",
        ".graphql",
        ".graphqls",
        ".gql",
        ".schema",
        ".jsonschema",
    ):
        name = name.removesuffix(ending)
    return name


def folder_name(path: PurePosixPath, otherwise: str = "schemas") -> str:
    """The nearest folder with a name of its own."""
    return next((plain_name(p) for p in reversed(path.parts[:-1]) if p not in _GENERIC_FOLDERS), otherwise)


def module_name(file: str, title: str) -> str:
    """What a description is called: its file's name, else its folder's, else its title."""
    path = PurePosixPath(file)
    stem = _stem(path)
    if stem.lower() not in _GENERIC:
        return plain_name(stem)
    folder = next((p for p in reversed(path.parts[:-1]) if p.lower() not in _GENERIC_FOLDERS), "")
    return plain_name(folder) if folder else plain_name(title.lower()) if title else "api"
