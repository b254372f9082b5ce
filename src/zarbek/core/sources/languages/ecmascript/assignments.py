"""What is assigned at the top of a module of JavaScript. Sources: ECMA-262, 13.15 ("Assignment Operators"); Node.js
documentation, "Modules: CommonJS modules"."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from tree_sitter import Node

from zarbek.core.sources.languages.syntax_tree import SourceTree, find_children

FUNCTION_VALUES = frozenset({"arrow_function", "function_expression", "generator_function"})
CLASS_VALUE = "class"
#: ``undefined`` and ``void 0``.
NOTHING = frozenset({"undefined", "unary_expression"})
#: What a function or class is called that a module is as a whole, where it has no name of its own.
WHOLE = "default"
_WHOLE = frozenset({"module.exports", "exports"})
DECLARATIONS = frozenset({"lexical_declaration", "variable_declaration"})
WORD = re.compile(r"[A-Za-z_$][\w$]*")
_EXPORTED = re.compile(r"(?:module\.)?exports\.([A-Za-z_$][\w$]*)")


@dataclass(frozen=True, slots=True)
class Assignment:
    """node: the statement's expression. targets: what is assigned to, as written, outermost first; local: the variable
    that is declared with it. value: what is assigned."""

    node: Node
    targets: list[str]
    value: Node
    local: str = ""

    @property
    def is_whole(self) -> bool:
        """Whether the module is what is assigned."""
        return not _WHOLE.isdisjoint(self.targets)

    @property
    def exported(self) -> list[str]:
        """The names by which the module hands it on."""
        return [found[1] for target in self.targets if (found := _EXPORTED.fullmatch(target)) is not None]


def assignment_of(tree: SourceTree, node: Node, local: str = "") -> Assignment | None:
    """None for what assigns nothing."""
    targets: list[str] = []
    value = node
    while value.type in ("assignment_expression", "parenthesized_expression"):
        if value.type == "assignment_expression":
            targets.append(tree.text(value.child_by_field_name("left")))
        inner = value.child_by_field_name("right") or (value.named_children[0] if value.named_children else None)
        if inner is None:
            return None
        value = inner
    return Assignment(node, targets, value, local) if targets else None


def list_assignments(tree: SourceTree, statement: Node) -> Iterator[Assignment]:
    """Those of one statement."""
    found: list[Assignment | None] = []
    if statement.type == "expression_statement" and statement.named_children:
        found.append(assignment_of(tree, statement.named_children[0]))
    elif statement.type in DECLARATIONS:
        for part in find_children(statement, "variable_declarator"):
            value, named = part.child_by_field_name("value"), part.child_by_field_name("name")
            if value is not None and named is not None and named.type == "identifier":
                found.append(assignment_of(tree, value, tree.text(named)))
    return (one for one in found if one is not None)


def own_name(tree: SourceTree, assignment: Assignment) -> str:
    """What a function or class that is a module is called."""
    return assignment.local or tree.text(assignment.value.child_by_field_name("name")) or WHOLE


def properties_of(tree: SourceTree, value: Node) -> Iterator[tuple[str, Node, Node, Node | None]]:
    """(name, node, value, comment before it) of an object that is written out, where the name is one; methods are their
    own value."""
    comment: Node | None = None
    for part in value.named_children if value.type == "object" else ():
        if part.type == "comment":
            comment = part
            continue
        if part.type == "shorthand_property_identifier":
            yield tree.text(part), part, part, comment
        elif part.type in ("pair", "method_definition"):
            name = tree.text(part.child_by_field_name("key") or part.child_by_field_name("name")).strip("'\"")
            if WORD.fullmatch(name):
                yield name, part, part.child_by_field_name("value") or part, comment
        comment = None
