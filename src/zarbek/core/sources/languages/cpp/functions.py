"""Functions, values and typedefs of C and C++. Source: C++20, [dcl.dcl]."""

from __future__ import annotations

import re

from tree_sitter import Node

from zarbek.core.model.symbol import Parameter
from zarbek.core.sources.languages.cpp.declarators import Declared, read_parameters
from zarbek.core.sources.languages.cpp.symbol_collector import Collector, Place
from zarbek.core.sources.languages.declarations import with_parameters
from zarbek.core.sources.languages.syntax_tree import find_child

#: Words before and after a function's name that its readers are told.
_BEFORE = ("static", "virtual", "constexpr", "explicit", "inline")
_AFTER = ("override", "final", "noexcept")


def _words_in(text: bytes, words: tuple[str, ...]) -> list[str]:
    return [w for w in words if (sign := w.encode()) in text and re.search(rb"\b" + sign + rb"\b", text)]


def _function_kind(name: str, place: Place) -> str:
    if place.owner and name in (place.owner, f"~{place.owner}"):
        return "constructor" if name == place.owner else "method"
    if name.startswith("operator"):
        return "operator"
    return "method" if place.owner else "function"


class FunctionReader(Collector):
    """Reads declarators; types, namespaces and macros are its subclass's."""

    def _typedef(
        self, node: Node, whole: Node, comments: list[Node], place: Place, declared: Declared, type_node: Node | None
    ) -> None:  # fmt: skip
        if type_node is not None and type_node.child_by_field_name("body") is not None:
            own = self.tree.text(type_node.child_by_field_name("name"))
            if not own or own == declared.name:
                return  # The type itself has this name.
            target = own
        else:
            target = self.tree.folded(type_node)
        head = self._cut(whole.start_byte, whole.end_byte).rstrip("; ")
        if len(head) > 400:
            head = f"typedef {target} {declared.name}"
        self._add(
            node, whole, comments, place, "type", declared.name, self._join(place, declared.name), head,
            bases=[target] if declared.function is None else [], types=[target],
        )  # fmt: skip

    def _function(
        self, node: Node, whole: Node, comments: list[Node], plain: Node | None, place: Place, declared: Declared,
        type_node: Node | None,
    ) -> None:  # fmt: skip
        function = declared.function
        assert function is not None
        parameters = read_parameters(function, self.tree)
        end = self._end_of_head(node)
        path = self._function_path(place, declared.name, function, parameters)
        flags = self._function_flags(node, function, end)
        returns = self.tree.folded(type_node) + declared.marks
        symbol = self._add(
            node, whole, comments, place, _function_kind(declared.name, place), declared.name, path,
            self._cut(whole.start_byte, end).rstrip("{;: "), parameters=parameters, returns=returns.strip(),
            flags=flags,
            types=[returns, *(p.type for p in parameters)],
            is_local="static" in flags and not place.owner and self.is_body,
        )  # fmt: skip
        if symbol is not None and symbol.doc is None and symbol.visibility == "public" and "override" not in flags:
            self.report_wrong_comment(plain, whole, path, declared.name)

    def _end_of_head(self, node: Node) -> int:
        """Where the body or a constructor's initialisers begin."""
        body, initialisers = node.child_by_field_name("body"), find_child(node, "field_initializer_list")
        if initialisers is not None:
            return initialisers.start_byte
        return body.start_byte if body is not None else node.end_byte

    def _function_path(self, place: Place, name: str, function: Node, parameters: list[Parameter]) -> str:
        path = self._join(place, name)
        if self.language != "cpp":
            return path
        path = with_parameters(path, parameters)
        if path in self.seen:  # Overloads that differ in more than the simple names of their types.
            path = f"{self._join(place, name)}({', '.join(p.type for p in parameters)})"
        self.seen.add(path)
        listed = function.child_by_field_name("parameters")
        tail = self.parsed[listed.end_byte : function.end_byte] if listed is not None else b""
        return f"{path}const" if re.match(rb"\s*(?:\w+\s+)*const\b", tail) else path

    def _function_flags(self, node: Node, function: Node, end: int) -> list[str]:
        flags = _words_in(self.parsed[node.start_byte : function.start_byte], _BEFORE)
        flags += _words_in(self.parsed[function.start_byte : end], _AFTER)
        is_pure = re.search(rb"=\s*0\s*;?\s*$", self.parsed[function.end_byte : node.end_byte])
        return [*flags, "abstract"] if is_pure else flags

    def _value(
        self, node: Node, whole: Node, comments: list[Node], place: Place, declared: Declared, type_node: Node | None
    ) -> None:  # fmt: skip
        if node.type == "declaration" and self.is_body and not place.owner:
            return
        storage = self.parsed[node.start_byte : (type_node.start_byte if type_node is not None else node.start_byte)]
        type_text = (self._cut(node.start_byte, type_node.end_byte) if type_node is not None else "") + declared.marks
        if type_node is not None and type_node.child_by_field_name("body") is not None:
            type_text = self.tree.text(type_node.child_by_field_name("name"))
        constant = (
            re.search(rb"\b(const|constexpr)\b", storage) is not None and not place.owner
        ) or b"constexpr" in storage
        kind = "constant" if constant else "field" if place.owner else "variable"
        default = node.child_by_field_name("default_value")
        value = self.value(default) if default is not None else declared.value
        shown = re.sub(r"^(?:static|extern|inline|constexpr|mutable)\s+", "", type_text)
        self._add(
            node, whole, comments, place, kind, declared.name, self._join(place, declared.name),
            f"{type_text} {declared.name}".strip() + (f" = {value}" if value else ""), types=[shown], value=value,
            type_text=shown,
        )  # fmt: skip
