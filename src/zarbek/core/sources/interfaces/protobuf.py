"""Protocol Buffers (proto2, proto3, editions) to symbols.

The compiler of the package ``grpcio-tools`` parses, in a process of its own and without plug-ins; its
descriptors with source information are read here. Sources: Protocol Buffers language specifications;
``descriptor.proto`` for the numbers in paths of locations.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Mapping, Sequence
from pathlib import PurePosixPath
from typing import Any

from google.protobuf import descriptor_pb2

from zarbek.core.material.protoc import compile_protos
from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.languages.reading import ModulePart, SourceReading
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown

MAX_S = 60
_TRIES = 6
_MISSING = re.compile(r'^(?P<file>[^\s:]+):(?P<line>\d+):\d+: Import "(?P<import>[^"]+)" was not found', re.MULTILINE)
_UNKNOWN = re.compile(
    r'^(?P<file>[^\s:]+):(?P<line>\d+):\d+: "(?P<name>[\w.]+)" (?:is not defined|seems to be defined)', re.MULTILINE
)
_ERROR = re.compile(r"^(?P<file>[^\s:]+):(?P<line>\d+):\d+: (?!warning: )(?P<text>.+)$", re.MULTILINE)
#: Errors that a fault in another file may bring about.
_FOLLOWS = re.compile(r"was not found|is not defined|seems to be defined")
_IMPORT = re.compile(r'^[ \t]*import\s+(?:public\s+|weak\s+)?"([^"]+)"', re.MULTILINE)
_SCALARS = {
    1: "double", 2: "float", 3: "int64", 4: "uint64", 5: "int32", 6: "fixed64", 7: "fixed32", 8: "bool", 9: "string",
    12: "bytes", 13: "uint32", 15: "sfixed32", 16: "sfixed64", 17: "sint32", 18: "sint64",
}  # fmt: skip
_STUBS = "zarbek_missing.proto"


def read_protobuf(texts: Mapping[str, str]) -> SourceReading:
    """The symbols of all files of a source, which are compiled together.

    texts: file to its text. What is imported and not there is taken to exist; a file with errors gives
    a finding at its line, and the others are read without it.
    """
    reading = SourceReading()
    left = dict(texts)
    stubs: dict[str, set[str]] = {}
    for _ in range(_TRIES + len(texts)):
        if not left:
            return reading
        output, told = _compile(left, stubs)
        if output:
            _read_set(output, left, reading)
            return reading
        if not _mend(left, stubs, told, reading):
            break
    for file in left:
        reading.findings.append(_fault(file, 1, "it could not be compiled"))
    return reading


def _roots(texts: Mapping[str, str]) -> list[str]:
    """Folders from which imports are meant: those under which an imported path exists, else the source's own."""
    wanted: dict[str, set[str]] = defaultdict(set)
    for text in texts.values():
        for name in _IMPORT.findall(text):
            wanted[name.rpartition("/")[2]].add(name)
    roots = [
        file[: -len(name)].rstrip("/")
        for file in texts
        for name in sorted(wanted[file.rpartition("/")[2]])
        if file.endswith("/" + name)
    ]
    return list(dict.fromkeys(["", *roots]))


def _compile(texts: Mapping[str, str], stubs: Mapping[str, set[str]]) -> tuple[bytes, str]:
    roots = [r for r in _roots(texts) if r] + [""]
    missing = {name: _stub(types) for name, types in stubs.items()}
    return compile_protos(texts, missing, roots, [_relative(file, roots) for file in texts], MAX_S)


def _relative(file: str, roots: list[str]) -> str:
    root = next((r for r in roots if r and file.startswith(r + "/")), "")
    return file[len(root) :].lstrip("/")


def _stub(types: set[str]) -> str:
    """A file that declares what is only named. One package a file is all that the language has."""
    package = next((t.rpartition(".")[0] for t in sorted(types) if "." in t), "")
    names = sorted({t.rpartition(".")[2] for t in types})
    head = f"package {package};\n" if package else ""
    return 'syntax = "proto3";\n' + head + "".join(f"message {name} {{}}\n" for name in names)


def _mend(left: dict[str, str], stubs: dict[str, set[str]], told: str, reading: SourceReading) -> bool:
    """Leave files with errors of their own out and take what is missing to exist; whether that helps."""
    before = {k: set(v) for k, v in stubs.items()}
    errors = [e for e in _ERROR.finditer(told) if not _FOLLOWS.search(e["text"])]
    for error in errors:
        _leave_out(error, left, stubs, reading)
    for match in _MISSING.finditer(told):
        stubs.setdefault(match["import"], set())
    if errors or stubs != before:
        return True
    _add_unknown(left, stubs, told)
    if stubs != before:
        return True
    first = _ERROR.search(told)
    return first is not None and _leave_out(first, left, stubs, reading)


def _add_unknown(left: dict[str, str], stubs: dict[str, set[str]], told: str) -> None:
    """Types that are only named go to an imported file that is not there and may have their package."""
    for match in _UNKNOWN.finditer(told):
        name = match["name"].lstrip(".")
        imports = _IMPORT.findall(left.get(_file_of(match["file"], left), ""))
        fit = (s for s in imports if s in stubs and (not stubs[s] or _package(stubs[s]) == name.rpartition(".")[0]))
        if home := next(fit, ""):
            stubs[home].add(name)


def _leave_out(error: re.Match[str], left: dict[str, str], stubs: dict[str, set[str]], reading: SourceReading) -> bool:
    file = _file_of(error["file"], left)
    if not file:
        return False
    reading.findings.append(_fault(file, int(error["line"]), error["text"].rstrip(".")))
    del left[file]
    stubs.setdefault(_relative(file, []), set())
    return True


def _file_of(told: str, files: Mapping[str, str]) -> str:
    """The file that the compiler tells of, or empty."""
    while told and told not in files:
        told = told.partition("/")[2]
    return told


def _package(types: set[str]) -> str:
    return next((t.rpartition(".")[0] for t in types), "")


def _fault(file: str, line: int, reason: str) -> Finding:
    return Finding("text/unreadable", "warning", file, f"The file was left out: {reason}.", file=file, line=line)


def _read_set(output: bytes, texts: Mapping[str, str], reading: SourceReading) -> None:
    for described in descriptor_pb2.FileDescriptorSet.FromString(output).file:
        file = next((f for f in texts if f == described.name or f.endswith("/" + described.name)), "")
        if file:
            _FileReader(described, file, texts[file], reading).read()


class _FileReader:
    """described: a FileDescriptorProto; its locations are by path, as in ``descriptor.proto``."""

    def __init__(self, described: Any, file: str, text: str, reading: SourceReading) -> None:
        self.described, self.file, self.reading = described, file, reading
        self.lines = text.split("\n")
        self.package = described.package or PurePosixPath(file).stem
        self.places = {tuple(place.path): place for place in described.source_code_info.location}
        reading.parts.append(ModulePart(Scope(file, self.package, language="protobuf")))

    def read(self) -> None:
        place = self.places.get((2,)) or self.places.get((12,)) or self.places.get((14,))
        said = [c for p in (self.places.get((12,)), self.places.get((14,)), self.places.get((2,))) if p
                for c in (p.leading_comments,) if c]  # fmt: skip
        if said:
            self._add(self.package, self.package, "package", (2,), f"package {self.package}", parent="", said=said[-1],
                      line=place.span[0] + 1 if place else 1)  # fmt: skip
        for index, message in enumerate(self.described.message_type):
            self._message(message, (4, index), self.package)
        for index, enum in enumerate(self.described.enum_type):
            self._enum(enum, (5, index), self.package)
        for index, service in enumerate(self.described.service):
            self._service(service, (6, index))
        for index, field in enumerate(self.described.extension):
            self._field(field, (7, index), self.package, {}, None)

    # Declarations -------------------------------------------------------------------------

    def _message(self, message: Any, at: tuple[int, ...], owner: str) -> None:
        path = f"{owner}.{message.name}"
        self._add(path, message.name, "message", at, f"message {message.name}", parent=owner, options=message.options)
        maps = {f"{path}.{n.name}": n for n in message.nested_type if n.options.map_entry}
        for index, field in enumerate(message.field):
            oneof = message.oneof_decl[field.oneof_index].name if (
                field.HasField("oneof_index") and not field.proto3_optional) else None  # fmt: skip
            self._field(field, (*at, 2, index), path, maps, oneof)
        for index, inner in enumerate(message.nested_type):
            if not inner.options.map_entry:
                self._message(inner, (*at, 3, index), path)
        for index, enum in enumerate(message.enum_type):
            self._enum(enum, (*at, 4, index), path)

    def _field(self, field: Any, at: tuple[int, ...], owner: str, maps: dict[str, Any], oneof: str | None) -> None:
        sink = MentionSink(self.lines, "type")
        type_text = self._type(field, maps, sink, self._line(at))
        label = "repeated " if field.label == 3 and not type_text.startswith("map<") else ""
        label = "optional " if field.proto3_optional else "required " if field.label == 2 else label
        inside = f"oneof {oneof}: " if oneof else ""
        default = f" [default = {field.default_value}]" if field.default_value else ""
        text = f"{inside}{label}{type_text} {field.name} = {field.number}{default}"
        flags = ("required",) if field.label == 2 else ()
        self._add(
            f"{owner}.{field.name}",
            field.name,
            "field",
            at,
            text,
            parent=owner,
            options=field.options,
            sink=sink,
            type=f"{label}{type_text}",
            value=str(field.number),
            flags=flags,
        )

    def _type(self, field: Any, maps: dict[str, Any], sink: MentionSink, line: int) -> str:
        if not field.type_name:
            return _SCALARS.get(field.type, "group")
        name = field.type_name.lstrip(".")
        if name in maps:
            key, value = maps[name].field
            return f"map<{_SCALARS.get(key.type, 'string')}, {self._type(value, {}, sink, line)}>"
        shown = name.removeprefix(self.package + ".")
        sink.add(shown, name, "type", line)
        return str(shown)

    def _enum(self, enum: Any, at: tuple[int, ...], owner: str) -> None:
        path = f"{owner}.{enum.name}"
        self._add(path, enum.name, "enum", at, f"enum {enum.name}", parent=owner, options=enum.options)
        for index, value in enumerate(enum.value):
            self._add(f"{path}.{value.name}", value.name, "member", (*at, 2, index), f"{value.name} = {value.number}",
                      parent=path, options=value.options, value=str(value.number))  # fmt: skip

    def _service(self, service: Any, at: tuple[int, ...]) -> None:
        path = f"{self.package}.{service.name}"
        self._add(path, service.name, "service", at, f"service {service.name}", parent=self.package,
                  options=service.options)  # fmt: skip
        for index, method in enumerate(service.method):
            here = (*at, 2, index)
            sink = MentionSink(self.lines, "param:request")
            asked, given = method.input_type.lstrip("."), method.output_type.lstrip(".")
            request = ("stream " if method.client_streaming else "") + asked.removeprefix(self.package + ".")
            answer = ("stream " if method.server_streaming else "") + given.removeprefix(self.package + ".")
            sink.add(request.removeprefix("stream "), asked, "type", self._line(here))
            sink.field = "returns"
            sink.add(answer.removeprefix("stream "), given, "type", self._line(here))
            self._add(
                f"{path}.{method.name}",
                method.name,
                "method",
                here,
                f"rpc {method.name}({request}) returns ({answer})",
                parent=path,
                options=method.options,
                sink=sink,
                parameters=[Parameter("request", "positional", request)],
                returns=answer,
            )

    # Texts and places ---------------------------------------------------------------------

    def _line(self, at: tuple[int, ...]) -> int:
        place = self.places.get(at)
        return place.span[0] + 1 if place else 1

    def _add(
        self,
        path: str,
        name: str,
        kind: str,
        at: tuple[int, ...],
        text: str,
        *,
        parent: str,
        options: Any = None,
        sink: MentionSink | None = None,
        said: str = "",
        line: int = 0,
        type: str = "",
        value: str = "",
        flags: tuple[str, ...] = (),
        parameters: Sequence[Parameter] = (),
        returns: str = "",
    ) -> None:
        sink = sink or MentionSink(self.lines)
        sink.field = "doc"
        line = line or self._line(at)
        place = self.places.get(at)
        end = line if place is None else (place.span[2] if len(place.span) == 4 else place.span[0]) + 1
        doc = self._doc(place, said, line, sink, bool(options and options.deprecated))
        self.reading.symbols.append(
            Symbol(
                path=path,
                name=name,
                kind=kind,
                language="protobuf",
                module=self.package,
                parent=parent,
                file=self.file,
                line=line,
                end_line=end,
                signatures=[Signature(list(parameters), returns, [], text)],
                type=type,
                value=value,
                flags=list(flags),
                doc=doc,
                mentions=sink.mentions,
            )
        )

    def _doc(self, place: Any, said: str, line: int, sink: MentionSink, deprecated: bool) -> Doc | None:
        leading = said or (place.leading_comments if place else "")
        text = leading or (place.trailing_comments if place else "")
        plain = "\n".join(row.removeprefix(" ").rstrip() for row in text.strip("\n").split("\n"))
        if plain.strip().startswith("*"):
            plain = re.sub(r"(?m)^\s*\* ?", "", plain)
        start = max(line - plain.count("\n") - 1, 1) if leading else line
        if plain.strip():
            convert_markdown(plain.split("\n"), start, sink)
        head, body = split_summary(plain)
        if not (head or body or deprecated):
            return None
        mark = Deprecation(instead=find_instead(plain)) if deprecated else None
        return Doc(head, body, deprecated=mark, line=start)
