"""Functions that are declared, and what is assigned to names, in JavaScript and TypeScript."""

from __future__ import annotations

import re

import msgspec
from tree_sitter import Node

from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.languages.ecmascript.assignments import (
    CLASS_VALUE,
    FUNCTION_VALUES,
    NOTHING,
    Assignment,
    assignment_of,
    own_name,
    properties_of,
)
from zarbek.core.sources.languages.ecmascript.function_bodies import made_type
from zarbek.core.sources.languages.ecmascript.members import MemberReader
from zarbek.core.sources.languages.syntax_tree import find_child

_CALLED = FUNCTION_VALUES | {"method_definition"}
#: ECMA-262, 4.3.1: what the objects that a constructor makes have in common stands in its property "prototype".
_MEMBER = re.compile(r"([A-Za-z_$][\w$]*)(\.prototype)?\.([A-Za-z_$][\w$]*)")
_SHARED = re.compile(r"([A-Za-z_$][\w$]*)\.prototype")
_OTHERS = NOTHING | {"identifier", "member_expression", "call_expression", "object"}


class FunctionReader(MemberReader):
    """Reads functions, and what is assigned at the top of a module."""

    def _function(
        self, node: Node, whole: Node, comment: Node | None, parent: str, outer: str, *, exported: bool
    ) -> None:
        name = self.tree.text(node.child_by_field_name("name"))
        if name:
            self._callable(node, node, whole, comment, parent, outer, name, exported=exported)

    def _callable(
        self, node: Node, declared: Node, whole: Node, comment: Node | None, parent: str, outer: str, name: str, *,
        exported: bool, kind: str = "function",
    ) -> None:  # fmt: skip
        body = node.child_by_field_name("body")
        parameters = self._parameters(node.child_by_field_name("parameters") or find_child(node, "identifier"))
        returns = self._type(node.child_by_field_name("return_type"))
        head = (
            self._head(declared, body.start_byte if body is not None else declared.end_byte).removesuffix("=>").rstrip()
        )
        flags = ["async"] if head.startswith("async ") or "= async" in head else []
        if body is not None and f"{parent}.{name}" in self.seen and node.type == "function_declaration":
            flags.append("implementation")
        self._add(
            node, whole, comment, name=name, kind=kind, parent=parent, visibility=self._level(outer, exported),
            head=head,
            parameters=parameters, returns=returns, types=[returns, *(p.type for p in parameters)],
            generics=self._generics(node), flags=flags, makes=made_type(self.tree, node),
        )  # fmt: skip

    def _assigned(self, node: Node, whole: Node, comment: Node | None, outer: str) -> None:
        """What a statement assigns: exports, and members of what stands before it."""
        found = assignment_of(self.tree, node)
        if found is None:
            return
        if found.is_whole:
            self._assigned_value(found, own_name(self.tree, found), whole, comment, outer)
            self._written_out(found.value, self.module, outer, "function")
        elif found.exported:
            self._assigned_value(found, found.exported[0], whole, comment, outer)
        elif (member := _MEMBER.fullmatch(found.targets[0])) is not None and found.value.type in FUNCTION_VALUES:
            owner = self._owner(member[1], is_type=bool(member[2]))
            if owner is not None:
                self._callable(found.value, node, whole, comment, owner.path, owner.visibility, member[3],
                               exported=True, kind="method")  # fmt: skip
        elif (shared := _SHARED.fullmatch(found.targets[0])) is not None:
            owner = self._owner(shared[1], is_type=True)
            if owner is not None:
                self._written_out(found.value, owner.path, owner.visibility, "method")

    def _assigned_value(
        self, found: Assignment, name: str, whole: Node, comment: Node | None, outer: str
    ) -> None:  # fmt: skip
        value = found.value
        if value.type in FUNCTION_VALUES:
            self._callable(value, found.node, whole, comment, self.module, outer, name, exported=True)
        elif value.type == CLASS_VALUE:
            self._class(value, whole, comment, self.module, outer, 1, exported=True, name=name)
        elif found.exported and value.type not in _OTHERS and f"{self.module}.{name}" not in self.seen:
            self._add(found.node, whole, comment, name=name, kind="variable", parent=self.module, visibility=outer,
                      head=f"exports.{name}", value=self.value(value))  # fmt: skip

    def _written_out(self, value: Node, parent: str, outer: str, kind: str) -> None:
        """The functions of an object that is written out."""
        for name, part, inner, comment in properties_of(self.tree, value):
            if inner.type in _CALLED:
                self._callable(inner, part, part, comment, parent, outer, name, exported=True, kind=kind)

    def _owner(self, name: str, *, is_type: bool) -> Symbol | None:
        """What has members that are assigned. is_type: whether objects are made by it."""
        at = self.seen.get(f"{self.module}.{name}")
        if at is None:
            return None
        owner = self.reading.symbols[at]
        if is_type and owner.kind == "function":
            owner = self.reading.symbols[at] = msgspec.structs.replace(owner, kind="class")
        return owner
