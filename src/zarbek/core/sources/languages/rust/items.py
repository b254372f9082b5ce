"""Items, fields and variants of Rust."""

from __future__ import annotations

import msgspec
from tree_sitter import Node

from zarbek.core.model.doc_text import Deprecation, Doc
from zarbek.core.model.symbol import Parameter, Signature, Symbol
from zarbek.core.sources.comments.block_tags import find_instead
from zarbek.core.sources.comments.rust import read_rust_comment
from zarbek.core.sources.languages.declarations import DeclarationReader
from zarbek.core.sources.languages.rust.attributes import Attributes, read_attribute, read_comment
from zarbek.core.sources.languages.syntax_tree import end_line_of, find_child, line_of
from zarbek.core.sources.markup.inline import MentionSink


class ItemReader(DeclarationReader):
    """Reads what stands in types; modules and implementations are its subclass's."""

    seen: set[str]
    form = "/// …"
    shift = 0
    #: What tells members of several ``impl`` blocks of one type apart.
    block = ""
    is_trait_block = False

    def _add(self, symbol: Symbol) -> None:
        self.reading.symbols.append(symbol)

    def _line(self, node: Node) -> int:
        return line_of(node) + self.shift

    def _doc(self, marks: Attributes, sink: MentionSink, *, outward: bool = False) -> Doc | None:
        doc = None
        lines = marks.text_lines(self.source.included) if marks.lines else []
        if any(part.strip() for part in lines):
            doc = read_rust_comment(lines, marks.line, sink, outward=outward)
            if marks.is_included:  # What it says stands in another file: here is only the line that names it.
                sink.mentions[:] = [msgspec.structs.replace(m, line=marks.line, column=0) for m in sink.mentions]
        if marks.deprecated is not None:
            since, note = marks.deprecated
            text = note.replace("[", "\\[")
            deprecation = Deprecation(since, text, find_instead(note).replace("::", "."))
            doc = msgspec.structs.replace(doc or Doc(line=marks.line), deprecated=deprecation)
        return doc

    def _level(self, node: Node) -> str:
        mark = find_child(node, "visibility_modifier")
        if mark is None:
            return "private"
        return "public" if mark.child_count == 1 and not mark.named_child_count else "internal"

    def _head(self, node: Node, body: Node | None) -> str:
        end = body.start_byte if body is not None else node.end_byte
        return self.tree.between(node.start_byte, end).rstrip("{; ").removesuffix(" where").rstrip(",")

    def _generics(self, node: Node) -> list[str]:
        holder = node.child_by_field_name("type_parameters")
        return [self.tree.folded(c) for c in holder.named_children] if holder is not None else []

    def _parameters(self, node: Node) -> tuple[list[Parameter], list[str]]:
        holder = node.child_by_field_name("parameters")
        found: list[Parameter] = []
        flags = ["static"]
        for part in holder.named_children if holder is not None else ():
            if part.type == "self_parameter":
                flags = []
            elif part.type == "parameter":
                name = self.tree.folded(part.child_by_field_name("pattern"))
                found.append(
                    Parameter(
                        name.removeprefix("mut "), "positional", self.tree.folded(part.child_by_field_name("type"))
                    )
                )
            elif part.type == "variadic_parameter":
                found.append(Parameter("...", "variadic"))
        return found, flags if node.parent is not None and node.parent.type == "declaration_list" else []

    def _is_macro(self, node: Node) -> bool:
        """Whether the grammar was given a macro by another name."""
        name = node.child_by_field_name("name")
        return name is not None and self.tree.data[node.start_byte : name.start_byte].rstrip().endswith(b"macro")

    def _fields(self, body: Node, path: str, module: str, *, own: str = "") -> None:
        """own: the level of fields that have none of their own: those of a variant are as public as that."""
        marks = Attributes()
        number = 0
        level = "private"
        for node in body.named_children:
            if node.type in ("line_comment", "block_comment"):
                if not self._trails(node):
                    read_comment(node, self.tree, marks, shift=self.shift)
            elif node.type == "attribute_item":
                read_attribute(node, self.tree, marks, self.shift)
            elif node.type == "field_declaration":
                self._field(node, marks, path, module, self.tree.text(node.child_by_field_name("name")),
                own or self._level(node),
                            self.tree.folded(node.child_by_field_name("type")))  # fmt: skip
                marks = Attributes()
            elif node.type == "visibility_modifier":
                level = "public" if node.child_count == 1 and not node.named_child_count else "internal"
            elif body.type == "ordered_field_declaration_list":
                self._field(node, marks, path, module, str(number), level, self.tree.folded(node))
                marks, number, level = Attributes(), number + 1, "private"

    @staticmethod
    def _trails(node: Node) -> bool:
        before = node.prev_sibling
        return before is not None and before.end_point[0] == node.start_point[0]

    def _field(
        self, node: Node, marks: Attributes, path: str, module: str, name: str, level: str, type_text: str
    ) -> None:
        sink = self.sink()
        doc = self._doc(marks, sink)
        self.mention_types(sink, [type_text], self._line(node))
        self._add(Symbol(
            path=f"{path}::{name}", name=name, kind="field", language="rust", module=module, parent=path,
            visibility="private" if marks.hidden else level, file=self.file, line=self._line(node),
            end_line=end_line_of(node) + self.shift, type=type_text, doc=doc, mentions=sink.mentions,
            signatures=[Signature(text=f"{name}: {type_text}")], flags=marks.flags,
        ))  # fmt: skip

    def _variants(self, body: Node, path: str, module: str, level: str) -> None:
        marks = Attributes()
        for node in body.named_children:
            if node.type in ("line_comment", "block_comment"):
                read_comment(node, self.tree, marks, shift=self.shift)
            elif node.type == "attribute_item":
                read_attribute(node, self.tree, marks, self.shift)
            elif node.type == "enum_variant":
                name = self.tree.text(node.child_by_field_name("name"))
                sink = self.sink()
                doc = self._doc(marks, sink)
                inside = node.child_by_field_name("body")
                self.mention_types(sink, [self.tree.folded(inside)], self._line(node))
                self._add(Symbol(
                    path=f"{path}::{name}", name=name, kind="member", language="rust", module=module, parent=path,
                    visibility="private" if marks.hidden else level, file=self.file, line=self._line(node),
                    end_line=end_line_of(node) + self.shift, doc=doc, mentions=sink.mentions,
                    signatures=[Signature(text=self.tree.folded(node))], flags=marks.flags,
                    value=self.value(node.child_by_field_name("value")),
                ))  # fmt: skip
                if inside is not None and inside.type == "field_declaration_list":
                    self._fields(inside, f"{path}::{name}", module, own=level)
                marks = Attributes()
