"""Declarators: the part of a declaration that says what is declared. Source: C++20, [dcl.decl]."""

from __future__ import annotations

import re
from dataclasses import dataclass

from tree_sitter import Node

from zarbek.core.model.symbol import Parameter
from zarbek.core.sources.languages.syntax_tree import SourceTree

#: ``type Class::*name`` declares name (C++20, [dcl.mptr]).
_MEMBER_POINTER = re.compile(r"^.*::\*\s*")
_NAMES = frozenset(
    {"identifier", "field_identifier", "type_identifier", "qualified_identifier", "destructor_name", "operator_name",
     "template_function", "primitive_type", "template_method"}
)  # fmt: skip
_WRAPPERS = {
    "pointer_declarator": "*", "reference_declarator": "&", "array_declarator": "", "init_declarator": "",
    "parenthesized_declarator": "", "attributed_declarator": "", "bitfield_clause": "",
    "abstract_pointer_declarator": "*",
    "abstract_reference_declarator": "&", "abstract_array_declarator": "", "pointer_type_declarator": "*",
}  # fmt: skip


@dataclass(slots=True)
class Declared:
    """name: as written, without blanks. marks: what stands around it (``*``, ``&``, ``[]``).
    function: the declarator with the parameter list, or None. value: the initialiser."""

    name: str
    marks: str = ""
    function: Node | None = None
    value: str = ""


def read_declarator(node: Node, tree: SourceTree) -> Declared | None:
    """What one declarator declares; None for what declares nothing."""
    marks = value = ""
    function: Node | None = None
    for _ in range(30):
        kind = node.type
        if kind in ("function_declarator", "abstract_function_declarator"):
            function = function or node
        elif kind == "operator_cast":
            return _operator_cast(node, tree)
        elif kind in _NAMES:
            return Declared("".join(_spaced(tree.text(node))), marks, function, value)
        elif kind == "init_declarator":
            value = tree.folded(node.child_by_field_name("value"))[:300]
        elif kind == "array_declarator":
            marks += f"[{tree.folded(node.child_by_field_name('size'))}]"
        elif kind == "reference_declarator":
            marks = (" &&" if tree.text(node).startswith("&&") else " &") + marks
        elif sign := _WRAPPERS.get(kind, ""):
            marks = f" {sign}{marks}"
        inner = node.child_by_field_name("declarator") or next(filter(_is_declarator, node.named_children), None)
        if inner is None:
            return None
        node = inner
    return None


def _is_declarator(node: Node) -> bool:
    return node.type in _NAMES or node.type in _WRAPPERS or "declarator" in node.type


def _spaced(name: str) -> str:
    if name.startswith("operator"):
        rest = re.sub(r"^\"\"\s+", '""', name[8:].strip())  # A blank before a suffix is no part of it.
        return f"operator {rest}" if rest[:1].isalpha() else f"operator{rest}"
    return "".join(name.split())


def _operator_cast(node: Node, tree: SourceTree) -> Declared:
    function = node.child_by_field_name("declarator")
    return Declared(f"operator {tree.folded(node.child_by_field_name('type'))}", "", function)


def read_parameters(function: Node, tree: SourceTree) -> list[Parameter]:
    """The parameters of a function declarator; ``void`` alone is none."""
    holder = function.child_by_field_name("parameters")
    found: list[Parameter] = []
    for part in holder.named_children if holder is not None else ():
        kind = part.type
        if kind in ("parameter_declaration", "optional_parameter_declaration", "variadic_parameter_declaration"):
            found.append(_parameter(part, tree, is_variadic=kind == "variadic_parameter_declaration"))
        elif kind == "variadic_parameter":
            found.append(Parameter("...", "variadic"))
    if (
        holder is not None
        and tree.text(holder).rstrip(") ").endswith("...")
        and not any(p.kind == "variadic" for p in found)
    ):
        found.append(Parameter("...", "variadic"))
    return [] if len(found) == 1 and found[0].type == "void" and not found[0].name else found


def _parameter(part: Node, tree: SourceTree, *, is_variadic: bool) -> Parameter:
    declarator = part.child_by_field_name("declarator")
    default = tree.folded(part.child_by_field_name("default_value"))
    declared = read_declarator(declarator, tree) if declarator is not None else None
    name = _MEMBER_POINTER.sub("", declared.name) if declared is not None else ""
    end = declarator.start_byte if declarator is not None else part.end_byte
    type_text = tree.between(part.start_byte, end).rstrip("= ")
    if declared is not None and declared.function is not None:
        type_text = tree.folded(part)
    elif declared is not None:
        type_text += declared.marks
    elif declarator is not None:
        type_text = tree.between(part.start_byte, declarator.end_byte)
    return Parameter(name, "variadic" if is_variadic else "positional", type_text.strip(), default)
