"""What the code of a test calls, by the classes that its variables are made of, in the languages with brackets."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tree_sitter import Node

from zarbek.core.model.example import CALLED, EXERCISED
from zarbek.core.model.given_types import EACH, GIVEN, element_type, name_by_type
from zarbek.core.model.mention import Mention
from zarbek.core.sources.examples.outcomes import is_of_framework
from zarbek.core.sources.languages.syntax_tree import SourceTree, find_child, line_of

_CALLS = frozenset({"method_invocation", "call_expression", "invocation_expression"})
_MADE = {"object_creation_expression": "type", "new_expression": "type", "composite_literal": "type",
         "struct_expression": "name", "compound_literal_expression": "type"}  # fmt: skip
_DECLARATIONS = frozenset({"variable_declarator", "property_declaration", "short_var_declaration", "let_declaration",
                           "init_declarator", "var_spec", "parameter", "formal_parameter", "parameter_declaration",
                           "assignment_expression", "resource"})  # fmt: skip
_LOOPS = frozenset({"enhanced_for_statement", "foreach_statement", "for_in_statement", "range_clause", "for_expression",
                    "for_range_loop"})  # fmt: skip
_INDEXED = frozenset({"index_expression", "element_access_expression", "subscript_expression", "array_access"})
#: Calls by which Rust goes through several (std::iter, "The three forms of iteration").
_GOING_THROUGH = frozenset({"iter", "iter_mut", "into_iter"})
_PLAIN = frozenset({"identifier", "field_identifier", "pointer_declarator", "reference_declarator", "array_declarator"})
_NO_TYPE = frozenset({"", "var", "val", "let", "const", "auto", "any", "object", "dynamic"})
_GENERIC = re.compile(r"<[^<>]*(?:<[^<>]*>[^<>]*)*>|\[[^\[\]]*\]")
_NAME = re.compile(r"[A-Za-z_$][\w$]*(?:(?:\.|::)[A-Za-z_$~][\w$]*)*\Z")
#: How functions of a type are called that make one (Rust API Guidelines, C-CTOR).
_MAKING = re.compile(r"(?:new|default|from|with|open|of|create|builder|parse|load)(?:_\w+)?\Z")
_WRAPPING = frozenset({"unary_expression", "await_expression", "reference_expression", "try_expression",
                       "parenthesized_expression", "pointer_expression", "non_null_expression",
                       "as_expression"})  # fmt: skip
MAX_CALLS = 500


class TestNames:
    """The variables of one test, and of what is set up for it."""

    def __init__(self, tree: SourceTree, language: str) -> None:
        self._tree, self._language = tree, language
        self._separator = "::" if language in ("cpp", "rust") else "."
        self._types: dict[str, str] = {}
        self._elements: dict[str, str] = {}
        self._local: set[str] = set()

    def read(self, node: Node) -> None:
        """Take in what a piece of code declares."""
        for each in _all(node):
            if each.type in _LOOPS or (each.type == "for_statement" and self._language == "kotlin"):
                self._declare_in_loop(each)
            elif each.type in _DECLARATIONS or self._is_plain(each):
                self._declare(each)

    def _is_plain(self, node: Node) -> bool:
        """Whether a node of C or C++ declares a variable without giving it a value."""
        if self._language not in ("c", "cpp") or node.type not in ("declaration", "field_declaration"):
            return False
        declarator = node.child_by_field_name("declarator")
        return declarator is not None and declarator.type in _PLAIN

    def take(self, others: TestNames) -> None:
        """Take over what is known of other names."""
        self._types, self._elements, self._local = others._types, others._elements, others._local

    def calls(self, node: Node, row: int = 0) -> Iterator[Mention]:
        """What a piece of code calls, in order. row: how many lines of the file stand before its tree."""
        found: set[tuple[str, int]] = set()
        for each in _all(node):
            named = self._called(each)
            if named is None or len(found) >= MAX_CALLS or is_of_framework(named[0]):
                continue
            name, word = named
            line = line_of(word) + row
            if (name, line) not in found:
                found.add((name, line))
                text = self._tree.text(word)
                column = len(self._tree.data[: word.start_byte].rpartition(b"\n")[2].decode(errors="replace")) + 1
                yield Mention(text, name, "code", EXERCISED, line, column, CALLED)

    def _called(self, node: Node) -> tuple[str, Node] | None:
        """What a node calls or makes, and the word that stands for it."""
        if (type_ := self._type_made(node)) is not None:
            name = self._plain(type_)
            return (name, _last_word(type_)) if _NAME.match(name) else None
        if node.type not in _CALLS:
            return None
        callee = self._callee(node)
        if self._language == "go" and callee is not None and callee.type in _INDEXED:
            callee = callee.named_children[0]  # What stands in its brackets are types.
        name = self._name_of(callee) if callee is not None else ""
        if node.type == "method_invocation" and callee is not None:
            name = self._of_invocation(node)
        return (name, _last_word(callee)) if callee is not None and _NAME.match(name) else None

    def _type_made(self, node: Node) -> Node | None:
        """The type that a node makes one of."""
        if node.type in _MADE:
            return node.child_by_field_name(_MADE[node.type]) or node.child_by_field_name("constructor")
        if node.type == "init_declarator" and node.parent is not None:
            value = node.child_by_field_name("value")
            if value is not None and value.type in ("argument_list", "initializer_list"):
                return node.parent.child_by_field_name("type")
        if self._language == "go" and node.type in _CALLS and self._tree.text(self._callee(node)) == "new":
            return find_child(node.child_by_field_name("arguments") or node, "type_identifier", "qualified_type")
        return None

    def _callee(self, node: Node) -> Node | None:
        return node.child_by_field_name("function") or node.child_by_field_name("name") or (
            node.named_children[0] if node.named_children else None
        )  # fmt: skip

    def _of_invocation(self, node: Node) -> str:
        """A call of Java, whose object stands apart from its name."""
        of, name = node.child_by_field_name("object"), self._tree.text(node.child_by_field_name("name"))
        if of is None:
            return name
        whole = self._name_of(of)
        return f"{whole}.{name}" if whole else ""

    def _name_of(self, node: Node) -> str:
        """What an expression names, by what its variables are made of; empty where that cannot be told."""
        inner = _unwrapped(node)
        if inner.type in _MADE or inner.type in _CALLS:
            return self._made(inner)
        parts = inner.named_children
        if inner.type in _INDEXED:
            return self._each(parts[0])
        if len(parts) >= 2 and (_is_of_one(parts[0]) or not _NAME.match(self._plain(inner))):
            of = self._name_of(parts[0])  # Of what something else gives.
            return f"{of}{self._separator}{self._plain(parts[-1])}" if of else ""
        text = self._plain(inner).replace("->", ".")
        for own in ("this.", "self."):
            text = text.removeprefix(own)
        head, sign, rest = _first(text)
        if head in self._types:
            return "" if _first(rest)[1] else f"{self._types[head]}{self._separator if sign else ''}{rest}"
        return "" if head in self._local else text

    def _each(self, node: Node) -> str:
        """What each of several is that an expression stands for."""
        inner = _unwrapped(node)
        callee = self._callee(inner) if inner.type == "call_expression" and self._language == "rust" else None
        if callee is not None and self._plain(callee).rpartition(".")[2] in _GOING_THROUGH:
            return self._each(callee.named_children[0])
        known = self._elements.get(self._tree.text(inner))
        if known is not None:
            return known
        return name_by_type(self._name_of(inner), EACH, self._separator)

    def _declare_in_loop(self, node: Node) -> None:
        names = self._declared(node)
        self._local.update(names)
        over = node.child_by_field_name("right") or node.child_by_field_name("value") or node.named_children[1]
        is_each = self._tree.text(node.child_by_field_name("operator")) != "in" and (  # Names of parts (ECMAScript).
            len(names) == (2 if node.type == "range_clause" else 1)  # Before it is its place (Go).
        )
        made = (self._declared_type(node) or self._each(over)) if is_each else ""
        if made:
            self._types[names[-1]] = made

    def _declare(self, node: Node) -> None:
        names = self._declared(node)
        self._local.update(names)
        if len(names) != 1 and (node.type != "short_var_declaration" or not names):
            return  # Of several that a function of Go gives, the first is known.
        declared = self._declared_type(node)
        element = declared if self._is_of_many(node) else element_type(self._written_type(node))
        if element:
            self._elements[names[0]] = element
        made = declared or self._value_type(node)
        if made:
            self._types[names[0]] = made

    def _is_of_many(self, node: Node) -> bool:
        """Whether a variable of C or C++ points to the first of several, or may."""
        declarator = node.child_by_field_name("declarator") if self._language in ("c", "cpp") else None
        return declarator is not None and not {"*", "["}.isdisjoint(self._tree.text(declarator))

    def _declared(self, node: Node) -> list[str]:
        named = (
            node.child_by_field_name("name") or node.child_by_field_name("left") or node.child_by_field_name("pattern")
            or node.child_by_field_name("declarator") or find_child(node, "variable_declaration", "identifier")
        )  # fmt: skip
        if named is None:
            return []
        if node.type == "assignment_expression":
            text = self._tree.text(named).removeprefix("this.").removeprefix("self.")
            return [text] if text.isidentifier() else []
        words = [n for n in _all(named) if n.type in ("identifier", "field_identifier")]
        if named.type == "variable_declaration":
            words = words[:1]
        return [self._tree.text(word) for word in words]

    def _declared_type(self, node: Node) -> str:
        text = _GENERIC.sub("", self._written_type(node)).rstrip("?*& ")
        return text if _NAME.match(text) and text not in _NO_TYPE and not text.islower() else ""

    def _written_type(self, node: Node) -> str:
        """The type that a declaration gives a variable, with what it has in brackets."""
        holder = node
        if node.type in ("variable_declarator", "init_declarator") and node.parent is not None:
            holder = node if node.child_by_field_name("type") is not None else node.parent
        type_ = holder.child_by_field_name("type")
        if type_ is None and node.type in ("property_declaration", "for_statement"):
            declared = find_child(node, "variable_declaration")
            type_ = find_child(declared, "user_type", "nullable_type") if declared is not None else None
        return self._tree.folded(type_).replace("struct ", "").lstrip(":&* ").removeprefix("mut ") if type_ else ""

    def _value_type(self, node: Node) -> str:
        value = node.child_by_field_name("value") or node.child_by_field_name("right")
        if value is None and node.named_children and node.type in ("property_declaration", "variable_declarator"):
            value = node.named_children[-1]
        return self._made(_unwrapped(value)) if value is not None else ""

    def _made(self, node: Node) -> str:
        """The class that an expression makes one of, or the function that gives it."""
        if (type_ := self._type_made(node)) is not None:
            return self._plain(type_)
        if node.type not in _CALLS:
            return ""
        callee = self._callee(node)
        name = self._plain(callee)
        if _NAME.match(name):
            whole, _, last = name.rpartition(self._separator)
            if self._language == "rust" and whole and _MAKING.match(last):
                return whole
            if self._language in ("kotlin", "cpp") and last[:1].isupper():
                return name if callee is not None and callee.type != "field_expression" else ""
        called = self._called(node)
        return f"{called[0]}{self._separator}{GIVEN}" if called is not None else ""

    def _plain(self, node: Node | None) -> str:
        """A name without its arguments for types, and what a pointer has more."""
        return _GENERIC.sub("", self._tree.folded(node)).replace("struct ", "").replace("?.", ".").replace("!!", "")


def _is_of_one(node: Node) -> bool:
    """Whether an expression begins with one of several."""
    while node.type not in _INDEXED:
        if not node.named_children:
            return False
        node = node.named_children[0]
    return True


def _unwrapped(node: Node) -> Node:
    while node.type in _WRAPPING or (node.type == "expression_list" and node.named_child_count == 1):
        inner = node.named_children[-1] if node.named_children else None
        if inner is None:
            return node
        node = inner
    return node


def _first(text: str) -> tuple[str, str, str]:
    found = re.search(r"\.|::", text)
    return (text[: found.start()], found[0], text[found.end() :]) if found else (text, "", "")


def _last_word(node: Node) -> Node:
    """The word at the end of a name: the one that is linked."""
    while node.type not in ("identifier", "type_identifier", "field_identifier", "property_identifier"):
        inner = [c for c in node.named_children if "argument" not in c.type and c.type not in ("type_arguments",)]
        if not inner:
            return node
        node = inner[-1]
    return node


def _all(node: Node) -> Iterator[Node]:
    """A node and all below it, in order."""
    pending = [node]
    while pending:
        each = pending.pop()
        yield each
        pending += reversed(each.named_children)
