"""What all readers of JSON-like descriptions share: symbols, texts, mentions and findings in place."""

from __future__ import annotations

import json
import re
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any, NamedTuple

from msgspec.structs import replace

from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.model.interface import Example, Interface, Listed, Schema
from zarbek.core.model.mention import Mention, Origin
from zarbek.core.model.naming import enclosing_of
from zarbek.core.model.symbol import Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.interfaces.document_set import DocumentSet, Place
from zarbek.core.sources.interfaces.documents import Document, Pointer
from zarbek.core.sources.interfaces.pointers import parse_pointer
from zarbek.core.sources.interfaces.schema_normalisation import SchemaNormaliser
from zarbek.core.sources.languages.reading import ModulePart, SourceReading
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown

#: A key whose text stands in the lines below it (YAML 1.2.2, section 8.1).
_BLOCK = re.compile(r":\s+[|>][-+0-9]*\s*(?:#.*)?$")


class WrittenExample(NamedTuple):
    """An example in place. schema: that it claims to fit; direction: ``request``, ``response`` or empty."""

    value: Any
    schema: Schema
    subject: str
    what: str
    direction: str
    document: Document
    pointer: Pointer


class SymbolBuilder:
    """Collects what one document gives. field: where the mentions that are met next stand.

    met: where what is referred to stands, by path. wanted: those of them that are nobody's but this
    description's, for they stand in files of their own.
    """

    def __init__(self, document: Document, module: str, documents: DocumentSet, language: str) -> None:
        self.document, self.module, self.documents, self.language = document, module, documents, language
        self.reading = SourceReading(parts=[ModulePart(Scope(document.file, module, language=language))])
        self.normaliser = SchemaNormaliser(documents, self._met)
        self.field = "schema"
        self.wanted: dict[str, Place] = {}
        self.met: dict[str, Place] = {}
        self.examples: list[WrittenExample] = []
        self._mentions: list[Mention] = []
        self._pending: list[tuple[Any, Schema, str, str, Document, Pointer]] = []

    # Texts and mentions -------------------------------------------------------------------

    def _met(self, kind: str, written: str, name: str, document: Document, pointer: Pointer) -> None:
        if kind == "text":
            self.read_text(name, document, pointer)
            return
        address = name if kind == "outside" else f"api:{name}"
        if kind == "ref":
            self.want(written, name, document)
        self.add_mention(written, address, "schema", document, pointer)

    def want(self, written: str, path: str, document: Document) -> None:
        """Take in what a reference leads to, where its file is no description of its own."""
        found = self.documents.find(written, document.file)
        if path in self.met or isinstance(found, str):
            return
        named = self.documents.path_of(found)
        size = len(parse_pointer(named[1]) or ()) if named else 0
        self.met[path] = Place(found.document, found.pointer[: len(found.pointer) - size])
        file = found.document.file
        if file not in self.documents.entries and file not in self.documents.roots:
            self.wanted[path] = self.met[path]

    def expect(
        self, value: Any, schema: Schema, what: str, direction: str, document: Document, pointer: Pointer
    ) -> None:
        """A written example of the symbol that is added next."""
        self._pending.append((value, schema, what, direction, document, pointer))

    def add_mention(self, written: str, address: str, origin: Origin, document: Document, pointer: Pointer) -> None:
        """Note a reference that stands at a pointer. written: as it stands there; address: what it means."""
        if document is not self.document:  # Told where it stands: by whoever describes that document.
            line, column = 0, 0
        else:
            line = document.line(pointer)
            column = document.lines[line - 1].find(written) + 1 if line <= len(document.lines) else 0
        self._mentions.append(Mention(written, address, origin, self.field, line, column))

    def mention_status(self, status: str, path: str, line: int) -> None:
        """Note a status code that the description of an operation speaks of."""
        text = self.document.lines[line - 1] if line <= len(self.document.lines) else ""
        self._mentions.append(Mention(status, f"api:{path}#{status}", "code", "doc", line, text.find(status) + 1))

    def read_text(self, text: str, document: Document, pointer: Pointer) -> None:
        """Mentions of a Markdown text; a text of another document is left to that one's reader."""
        if document is not self.document or not ("`" in text or "](" in text or "://" in text):
            return
        lines = text.split("\n")
        start = text_start(document, pointer)
        sink = MentionSink(document.lines, self.field, self._mentions)
        if document.is_json:  # All lines of a text are one there.
            for line in lines:
                convert_markdown([line], start, sink)
        else:
            convert_markdown(lines, start, sink)

    @contextmanager
    def muted(self, when: bool) -> Iterator[None]:
        """What is shared and has a symbol of its own tells of its mentions there."""
        held = list(self._mentions)
        yield
        if when:
            self._mentions = held

    def give_mentions(self, mentions: list[Mention]) -> None:
        """Mentions of the symbol that is added next."""
        self._mentions = [*mentions, *self._mentions]

    def peek_mentions(self) -> list[Mention]:
        """The mentions so far, kept for the next symbol."""
        return list(self._mentions)

    @contextmanager
    def on(self, document: Document, path: str) -> Iterator[None]:
        """Tell of a part of another document that has no reader of its own."""
        before, module = self.document, self.module
        self.document, self.module = document, enclosing_of(path) or module
        self.reading.parts.append(ModulePart(Scope(document.file, self.module, language=self.language)))
        try:
            yield
        finally:
            self.document, self.module = before, module

    def add_wanted(self, add: Callable[[str, str, dict[str, Any], Pointer], None]) -> None:
        """Take in schemas that stand in files of their own, with what they refer to in turn.

        add: is given path, name, value and pointer of each.
        """
        done: set[str] = set()
        while missing := [path for path in self.wanted if path not in done]:
            for path in missing:
                done.add(path)
                place = self.wanted[path]
                value = place.document.at(place.pointer)
                if isinstance(value, dict) and "in" not in value and "content" not in value:
                    with self.on(place.document, path):
                        add(path, path.rpartition(".")[2], value, place.pointer)

    def line_in(self, text: str, offset: int, pointer: Pointer) -> int:
        """The line of the file on which an offset of one of its texts stands."""
        start = text_start(self.document, pointer)
        return start if self.document.is_json else start + text.count("\n", 0, offset)

    def take_mentions(self) -> list[Mention]:
        """The mentions since the last symbol, each once; the next begins with none."""
        found, self._mentions = list(dict.fromkeys(self._mentions)), []
        return found

    def doc(self, holder: dict[str, Any], pointer: Pointer, *, summary: str = "") -> Doc | None:
        """The texts of an element: its summary and description, and what is said of its deprecation."""
        given = summary or _text(holder, "summary") or _text(holder, "title" if "type" in holder else "")
        described = _text(holder, "description")
        if described:
            self.field = "doc"
            self.read_text(described, self.document, (*pointer, "description"))
        head, body = split_summary(described)
        if given and given.rstrip(".") != head.rstrip("."):
            head, body = given, described
        deprecated = Deprecation(instead=find_instead(described)) if holder.get("deprecated") is True else None
        if not (head or body or deprecated):
            return None
        return Doc(head, body, deprecated=deprecated, line=self.document.line(pointer))

    # Schemas and examples -----------------------------------------------------------------

    def schema(self, value: Any, pointer: Pointer, field: str, document: Document | None = None) -> Schema:
        """A schema in the one form that is kept; its references become mentions of field."""
        self.field = field
        where = document or self.document
        if not isinstance(value, dict):
            return {}
        made = self.normaliser.convert(value, where, pointer)
        for inner, example, at_document, at in self.normaliser.take_examples():
            if at_document is self.document:
                self.expect(example, inner, "", field.partition(":")[0], at_document, at)
        return made

    def foreign_schema(self, path: str) -> Schema | None:
        """The schema of a path that another description of the source has."""
        place = self.met.get(path)
        if place is None:
            return None
        made = self.normaliser.convert(place.document.at(place.pointer), place.document, place.pointer)
        self.take_mentions()
        self.normaliser.take_examples()
        return made

    # Symbols ------------------------------------------------------------------------------

    def add(self, path: str, name: str, kind: str, pointer: Pointer, *, doc: Doc | None, interface: Interface,
            parent: str = "", text: str = "", type: str = "", flags: tuple[str, ...] = (),
            names: tuple[str, ...] = ()) -> None:  # fmt: skip
        """Add a symbol; the mentions since the last one are its own."""
        line = self.document.line(pointer)
        self.reading.symbols.append(Symbol(
            path=path, name=name, kind=kind, language=self.language, module=self.module,
            parent=parent if kind != "api" else "", file=self.document.file, line=line, end_line=line,
            signatures=[Signature(text=text)] if text else [], type=type, flags=sorted(flags), doc=doc,
            mentions=self.take_mentions(), interface=interface,
        ))  # fmt: skip
        self.examples += [
            WrittenExample(value, schema, path, what, direction, document, at)
            for value, schema, what, direction, document, at in self._pending
        ]
        self._pending = []
        self.reading.names += [(other, path) for other in names if other and other != path]


def list_operations(symbols: list[Symbol]) -> None:
    """Tell with the API, which is the first symbol, what it offers."""
    held = symbols[0].interface
    if held is None or held.service is None:
        return
    listed = [
        Listed(s.path, f"{o.method} {o.path}", o.tags[0] if o.tags else "", o.incoming)
        for s in symbols if s.interface and (o := s.interface.operation) is not None
    ]  # fmt: skip
    symbols[0] = replace(symbols[0], interface=replace(held, service=replace(held.service, operations=listed)))


def text_start(document: Document, pointer: Pointer) -> int:
    """The line on which a text begins: that of its key, or the one below for a block scalar of YAML."""
    line = document.line(pointer)
    at_key = document.lines[line - 1] if line <= len(document.lines) else ""
    return line + 1 if not document.is_json and _BLOCK.search(at_key) else line


def _text(holder: dict[str, Any], key: str) -> str:
    found = holder.get(key) if key else ""
    return found.strip() if isinstance(found, str) else ""


def write_json(value: Any) -> str:
    """A value as JSON for people, indented by two spaces."""
    return json.dumps(value, indent=2, ensure_ascii=False)


def example_of(value: Any, name: str = "", text: str = "", *, is_json: bool = True) -> Example:
    """A text stays as it is where the body is no JSON."""
    content = value if isinstance(value, str) and not is_json else write_json(value)
    return Example(content, name, text)


def is_json_type(media_type: str) -> bool:
    """Whether bodies of a media type are JSON (RFC 6839, section 3.1)."""
    plain = media_type.partition(";")[0].strip().lower()
    return plain.endswith(("/json", "+json")) or plain in ("*/*", "")


def mapping(value: Any) -> dict[str, Any]:
    """A mapping, or an empty one in the place of anything else: what is wrong is told elsewhere."""
    return value if isinstance(value, dict) else {}


def items(value: Any) -> list[Any]:
    """A list as it is, nothing else as an empty one: descriptions are written by anybody."""
    return value if isinstance(value, list) else []
