"""What the body of a function tells of what it gives. Source: ECMA-262, 14.10 ("The return Statement")."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from tree_sitter import Node

from zarbek.core.sources.languages.ecmascript.assignments import CLASS_VALUE, FUNCTION_VALUES
from zarbek.core.sources.languages.syntax_tree import SourceTree, find_children

#: What stands for itself: what is returned in it is not what the function around it returns.
_APART = FUNCTION_VALUES | {"function_declaration", "generator_function_declaration", CLASS_VALUE, "class_declaration",
                            "method_definition"}  # fmt: skip
_WRAPPING = frozenset({"parenthesized_expression", "await_expression", "as_expression", "satisfies_expression",
                       "non_null_expression"})  # fmt: skip
_NOTHING = frozenset({"null", "undefined"})


def made_type(tree: SourceTree, node: Node) -> str:
    """The class, as written, that a function without a declared type makes one of and gives, ``Self`` for the object
    itself. Empty where that differs or cannot be told."""
    body = node.child_by_field_name("body")
    is_generator = any(child.type == "*" for child in node.children)
    if body is None or is_generator or node.child_by_field_name("return_type") is not None:
        return ""
    text = tree.data[body.start_byte : body.end_byte]
    if b"new " not in text and b"this" not in text:
        return ""
    making = _Making(tree, body)
    if body.type != "statement_block":
        return making.of(body)
    given = [s.named_children[0] for s in making.own if s.type == "return_statement" and s.named_children]
    made = {making.of(value) for value in given if value.type not in _NOTHING}
    return made.pop() if len(made) == 1 else ""


class _Making:
    """What the constants of one function stand for, looked through once."""

    def __init__(self, tree: SourceTree, body: Node) -> None:
        self._tree = tree
        self.own = list(_own(body)) if body.type == "statement_block" else []

    def of(self, value: Node, *, follows: bool = True) -> str:
        """The class that an expression makes one of; empty where that cannot be told. follows: a constant, once."""
        while value.type in _WRAPPING and value.named_children:
            value = value.named_children[0]
        if value.type == "this":
            return "Self"
        if value.type == "new_expression":
            return self._tree.text(value.child_by_field_name("constructor"))
        made = self._constants.get(self._tree.text(value)) if follows and value.type == "identifier" else None
        return self.of(made, follows=False) if made is not None else ""

    @cached_property
    def _constants(self) -> dict[str, Node]:
        found: dict[str, Node] = {}
        text = self._tree.text
        for statement in (s for s in self.own if s.type == "lexical_declaration"):
            for part in find_children(statement, "variable_declarator"):
                value = part.child_by_field_name("value")
                if value is not None and text(statement.child_by_field_name("kind")) == "const":
                    found.setdefault(text(part.child_by_field_name("name")), value)
        return found


def _own(body: Node) -> Iterator[Node]:
    pending = [body]
    while pending:
        node = pending.pop()
        yield node
        pending += (child for child in node.named_children if child.type not in _APART)
