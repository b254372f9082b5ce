"""What the body of a function tells of what it gives. Source: ECMA-262, 14.10 ("The return Statement")."""

from __future__ import annotations

from collections.abc import Iterator

from tree_sitter import Node

from zarbek.core.sources.languages.syntax_tree import SourceTree, find_children

#: What stands for itself: what is returned in it is not what the function around it returns.
_APART = frozenset({"function_declaration", "function_expression", "arrow_function", "generator_function",
                    "generator_function_declaration", "class", "class_declaration", "method_definition"})  # fmt: skip
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
    if body.type != "statement_block":
        return _made(tree, body, [])
    statements = list(_own(body))
    given = [s.named_children[0] for s in statements if s.type == "return_statement" and s.named_children]
    made = {_made(tree, value, statements) for value in given if value.type not in _NOTHING}
    return made.pop() if len(made) == 1 else ""


def _own(body: Node) -> Iterator[Node]:
    pending = [body]
    while pending:
        node = pending.pop()
        yield node
        pending += (child for child in node.named_children if child.type not in _APART)


def _made(tree: SourceTree, value: Node, statements: list[Node]) -> str:
    while value.type in _WRAPPING and value.named_children:
        value = value.named_children[0]
    if value.type == "this":
        return "Self"
    if value.type == "new_expression":
        return tree.text(value.child_by_field_name("constructor"))
    if value.type != "identifier":
        return ""
    return _declared(tree, tree.text(value), statements)


def _declared(tree: SourceTree, name: str, statements: list[Node]) -> str:
    """What a constant is made of."""
    for statement in statements:
        if statement.type != "lexical_declaration" or tree.text(statement.child_by_field_name("kind")) != "const":
            continue
        for part in find_children(statement, "variable_declarator"):
            value = part.child_by_field_name("value")
            if tree.text(part.child_by_field_name("name")) == name and value is not None:
                return _made(tree, value, []) if value.type != "identifier" else ""
    return ""
