"""GraphQL type definitions to symbols. Source: GraphQL Specification (October 2021 and September 2025),
section 3, "Type System"."""

from __future__ import annotations

import re
from collections.abc import Sequence
from typing import Any

from graphql import GraphQLError, Source, parse, print_ast

from zarbek.core.errors import UnreadableText
from zarbek.core.model.bundle import Scope
from zarbek.core.model.doc_text import Deprecation, Doc, DocField
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.summary import split_summary
from zarbek.core.sources.languages.reading import ModulePart, SourceFile, SourceReading
from zarbek.core.sources.markup.inline import MentionSink
from zarbek.core.sources.markup.markdown import convert_markdown

_KINDS = {
    "object_type": "type", "interface_type": "interface", "union_type": "union", "enum_type": "enum",
    "input_object_type": "input", "scalar_type": "scalar",
}  # fmt: skip
_WORDS = {"type": "type", "interface": "interface", "union": "union", "enum": "enum", "input": "input",
          "scalar": "scalar"}  # fmt: skip
BUILT_IN = frozenset(("Int", "Float", "String", "Boolean", "ID"))
MAX_TOKENS = 2_000_000
_NAME = re.compile(r"[A-Za-z_]\w*")


def read_graphql(text: str, source: SourceFile) -> SourceReading:
    """The symbols of one file. Raises UnreadableText with the line of a syntax error."""
    try:
        document = parse(Source(text, source.file), max_tokens=MAX_TOKENS)
    except GraphQLError as error:
        line = error.locations[0].line if error.locations else 1
        raise UnreadableText(f"it is no GraphQL: {error.message.removeprefix('Syntax Error: ')}", line) from error
    return _GraphQlReader(text, source).read(document)


class _GraphQlReader:
    def __init__(self, text: str, source: SourceFile) -> None:
        self.lines, self.source = text.split("\n"), source
        self.reading = SourceReading(parts=[ModulePart(Scope(source.file, source.module, language="graphql"))])
        self.roots = {"Query": "Query", "Mutation": "Mutation", "Subscription": "Subscription"}

    def read(self, document: Any) -> SourceReading:
        for node in document.definitions:
            kind = node.kind.removesuffix("_definition").removesuffix("_extension")
            if kind in _KINDS:
                self._type(node, _KINDS[kind], is_extension=node.kind.endswith("_extension"))
            elif node.kind == "directive_definition":
                self._directive(node)
        return self.reading

    # Types --------------------------------------------------------------------------------

    def _type(self, node: Any, kind: str, *, is_extension: bool) -> None:
        name = node.name.value
        path = f"{self.source.module}.{name}"
        bases = [i.name.value for i in getattr(node, "interfaces", None) or ()]
        members = [t.name.value for t in getattr(node, "types", None) or ()]
        if is_extension:
            self.reading.extends += [(path, base) for base in bases]
        else:
            text = f"{_WORDS[kind]} {name}"
            text += f" implements {' & '.join(bases)}" if bases else ""
            text += f" = {' | '.join(members)}" if members else ""
            sink = self._sink()
            for base in bases:
                sink.field = "base"
                sink.add(base, base, "base", _line(node.name))
            for member in members:
                sink.field = "type"
                sink.add(member, member, "type", _line(node.name))
            self._add(node, path, name, kind, text, sink, parent=self.source.module, bases=list(bases), names=(name,))
        for field in getattr(node, "fields", None) or ():
            self._field(field, path, kind)
        for value in getattr(node, "values", None) or ():
            self._add(value, f"{path}.{value.name.value}", value.name.value, "member", value.name.value, self._sink(),
                      parent=path)  # fmt: skip

    def _field(self, node: Any, owner: str, owner_kind: str) -> None:
        name = node.name.value
        returns = print_ast(node.type)
        arguments = list(getattr(node, "arguments", None) or ())
        parameters = [self._parameter(a) for a in arguments]
        inside = ", ".join(f"{p.name}: {p.type}" + (f" = {p.default}" if p.default else "") for p in parameters)
        default = print_ast(node.default_value) if getattr(node, "default_value", None) else ""
        text = f"{name}{f'({inside})' if inside else ''}: {returns}" + (f" = {default}" if default else "")
        sink = self._sink()
        fields = []
        for argument in arguments:
            sink.field = f"param:{argument.name.value}"
            self._mention(sink, print_ast(argument.type), _line(argument.name))
            if argument.description:
                said = self._text(argument.description, sink)
                fields.append(DocField(argument.name.value, print_ast(argument.type), said, line=_line(argument)))
        sink.field = "returns"
        self._mention(sink, returns, _line(node.name))
        is_needed = owner_kind == "input" and returns.endswith("!") and not default
        self._add(
            node,
            f"{owner}.{name}",
            name,
            "field",
            text,
            sink,
            parent=owner,
            parameters=parameters,
            returns="" if owner_kind == "input" else returns,
            type=returns if owner_kind == "input" else "",
            fields=fields,
            flags=["required"] if is_needed else [],
        )

    def _parameter(self, node: Any) -> Parameter:
        default = print_ast(node.default_value) if node.default_value else ""
        return Parameter(node.name.value, "keyword-only", print_ast(node.type), default)

    def _directive(self, node: Any) -> None:
        name = node.name.value
        arguments = ", ".join(f"{a.name.value}: {print_ast(a.type)}" for a in node.arguments or ())
        places = " | ".join(location.value for location in node.locations)
        text = f"directive @{name}{f'({arguments})' if arguments else ''} on {places}"
        sink = self._sink()
        self._add(node, f"{self.source.module}.@{name}", f"@{name}", "directive", text, sink,
                  parent=self.source.module)  # fmt: skip

    # Texts --------------------------------------------------------------------------------

    def _sink(self) -> MentionSink:
        return MentionSink(self.lines)

    def _mention(self, sink: MentionSink, type_text: str, line: int) -> None:
        for name in _NAME.findall(type_text):
            if name not in BUILT_IN:
                sink.add(name, name, "type", line)

    def _text(self, description: Any, sink: MentionSink) -> str:
        text = description.value.strip()
        start = _line(description) + (1 if description.block and "\n" in print_ast(description) else 0)
        convert_markdown(text.split("\n"), start, sink)
        return str(text)

    def _add(
        self,
        node: Any,
        path: str,
        name: str,
        kind: str,
        text: str,
        sink: MentionSink,
        *,
        parent: str,
        bases: Sequence[str] = (),
        parameters: Sequence[Parameter] = (),
        returns: str = "",
        type: str = "",
        fields: Sequence[DocField] = (),
        flags: Sequence[str] = (),
        names: tuple[str, ...] = (),
    ) -> None:
        sink.field = "doc"
        doc = self._doc(node, sink, fields)
        line = _line(node.name)
        self.reading.symbols.append(
            Symbol(
                path=path,
                name=name,
                kind=kind,
                language="graphql",
                module=self.source.module,
                parent=parent,
                file=self.source.file,
                line=line,
                end_line=line,
                signatures=[Signature(list(parameters), returns, [], text)],
                bases=list(bases),
                type=type,
                flags=list(flags),
                doc=doc,
                mentions=sink.mentions,
            )
        )
        self.reading.names += [(other, path) for other in names]

    def _doc(self, node: Any, sink: MentionSink, fields: Sequence[DocField]) -> Doc | None:
        said = self._text(node.description, sink) if getattr(node, "description", None) else ""
        head, body = split_summary(said)
        deprecated = _deprecation(node)
        if not (said or deprecated or fields):
            return None
        line = _line(node.description) if getattr(node, "description", None) else _line(node)
        return Doc(head, body, parameters=list(fields), deprecated=deprecated, line=line)


def _deprecation(node: Any) -> Deprecation | None:
    for directive in getattr(node, "directives", None) or ():
        if directive.name.value == "deprecated":
            reason = next((a.value.value for a in directive.arguments if a.name.value == "reason"), "")
            return Deprecation(text=reason, instead=find_instead(reason))
    return None


def _line(node: Any) -> int:
    return int(node.loc.start_token.line) if node.loc else 1
