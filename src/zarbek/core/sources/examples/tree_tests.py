"""Tests in the languages with brackets: what their frameworks take for one, with its parts."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from textwrap import dedent

from tree_sitter import Node

from zarbek.core.model.example import ExamplePart, PartKind
from zarbek.core.model.mention import Mention
from zarbek.core.sources.examples.found_test import FoundTest, joined_parts
from zarbek.core.sources.examples.outcomes import SILENT, outcome_in
from zarbek.core.sources.examples.test_comments import TestComment, read_test_comment
from zarbek.core.sources.examples.tree_names import TestNames
from zarbek.core.sources.languages.syntax_tree import MAX_DEPTH, SourceTree, end_line_of, line_of

_COMMENTS = frozenset({"comment", "line_comment", "block_comment", "multiline_comment"})
_BLOCKS = frozenset({"block", "statement_block", "compound_statement", "statement_list", "function_body"})
_SECTION = re.compile(r'(?:SECTION|SUBCASE|GIVEN|WHEN|THEN|AND_WHEN|AND_THEN)\(\s*"(.*)"\s*\);?$', re.DOTALL)
_GO_FAILS = re.compile(r"\b[tb]\.(?:Error|Fatal|Fail)(?:f|ln|Now)?\(")
_GO_COMPARED = re.compile(r"^(?P<left>.+?)\s*(?P<sign>!=|==)\s*(?P<right>.+)$", re.DOTALL)
_GO_DEEP = re.compile(r"^!(?:reflect\.DeepEqual|slices\.Equal|maps\.Equal|bytes\.Equal|cmp\.Equal)\((.+)\)$", re.DOTALL)


@dataclass(slots=True)
class TestPlace:
    """A test where it stands. anchor: the node above which its comment stands. body: its code."""

    names: list[str]
    framework: str
    anchor: Node
    body: Node
    marked: bool = False
    title: str = ""
    setting: list[Node] = field(default_factory=list)
    fields: list[Node] = field(default_factory=list)


def read_place(
    place: TestPlace, tree: SourceTree, language: str, is_shown: Callable[[list[str]], bool]
) -> FoundTest | None:  # fmt: skip
    """A test, if it is an example. is_shown: whether one of such names is, without a mark."""
    said = read_test_comment(place.anchor, tree, language)
    if not (place.marked or said.is_example or is_shown(place.names)):
        return None
    return _PlaceReader(place, tree, language).read(said)


class _PlaceReader:
    def __init__(self, place: TestPlace, tree: SourceTree, language: str) -> None:
        self._place, self._tree, self._language = place, tree, language
        self._names = TestNames(tree, language)

    def read(self, said: TestComment) -> FoundTest:
        place = self._place
        found = FoundTest(place.names, place.framework, line_of(place.anchor), end_line_of(place.body))
        found.title, found.doc, found.mentions = said.title or place.title, said.doc, said.mentions
        for node in [*place.fields, *place.setting, place.body]:
            self._names.read(node)
        before = [*place.fields, *place.setting]
        found.setting = joined_parts(part for node in before for part in self._before(node))
        found.parts = joined_parts(self._parts(statements_of(place.body)))
        found.mentions += [*self._names.calls(place.body), *self._in_macros(place.body)]
        found.mentions.sort(key=lambda m: (m.line, m.column))
        return found

    def _before(self, node: Node) -> Iterator[ExamplePart]:
        body = next((c for c in node.named_children if c.type in _BLOCKS), None)
        inner = statements_of(body) if body is not None else [node]
        if inner:
            yield self._plain(inner, "set-up")

    def _plain(self, nodes: list[Node], kind: PartKind = "step") -> ExamplePart:
        data, start = self._tree.data, nodes[0].start_byte
        before = data[:start].rpartition(b"\n")[2]
        text = data[start : nodes[-1].end_byte].decode(errors="replace").rstrip()
        margin = re.match(rb"\s*", before)
        return ExamplePart(
            kind, dedent(((margin[0].decode() if margin else "") + text).expandtabs(4)), line=line_of(nodes[0])
        )

    def _parts(self, statements: list[Node]) -> Iterator[ExamplePart]:
        for node in statements:
            text = self._tree.text(node)
            if node.type in _COMMENTS:
                said = re.match(r"//\s*(?:Unordered )?[Oo]utput:\s*(.*)", text, re.DOTALL)
                if said and self._language == "go":
                    yield ExamplePart("outcome", "", "prints", said[1].strip(), line_of(node))
                else:
                    yield self._plain([node])
                continue
            if node.type == "compound_statement":
                yield from self._parts(statements_of(node))
                continue
            if section := _SECTION.match(text):
                yield ExamplePart("step", f"// {section[1]}", line=line_of(node))
                continue
            if self._language == "go" and node.type == "if_statement" and _GO_FAILS.search(text):
                yield from self._of_condition(node)
                continue
            outcome = outcome_in(text, self._language)
            if outcome is None:
                yield self._plain([node])
            elif outcome is not SILENT:
                written = self._plain([node]).text
                yield ExamplePart("outcome", outcome.text, outcome.how, outcome.result, line_of(node), written)

    def _of_condition(self, node: Node) -> Iterator[ExamplePart]:
        """What a test of Go looks at before it says that something is wrong."""
        condition = self._tree.folded(node.child_by_field_name("condition"))
        given = self._tree.folded(node.child_by_field_name("initializer"))
        name, _, value = given.partition(":=")
        deep, compared = _GO_DEEP.match(condition), _GO_COMPARED.match(condition)
        if deep:
            left, _, right = deep[1].partition(", ")
            how = "is"
        elif compared:
            left, right, how = compared["left"], compared["right"], "is" if compared["sign"] == "!=" else "is not"
        else:
            left, right, how = (condition[1:], "", "holds") if condition.startswith("!") else (condition, "false", "is")
        if right == "nil" and left.rpartition(".")[2] in ("err", "error"):
            if how == "is not":
                yield ExamplePart("outcome", value.strip() or left, "is an", "error", line_of(node))
            elif value and "," not in name:
                yield ExamplePart("step", value.strip(), line=line_of(node))
            return
        if value and name.strip() == left:
            left = value.strip()
        yield ExamplePart("outcome", left, how, right, line_of(node), self._plain([node]).text)

    def _in_macros(self, body: Node) -> Iterator[Mention]:
        """What is called in what macros of Rust are given, which the grammar leaves as it stands."""
        if self._language != "rust":
            return
        pending = [body]
        while pending:
            node = pending.pop()
            if node.type != "macro_invocation":
                pending += node.named_children
                continue
            given = node.named_children[-1]
            inner = self._tree.data[given.start_byte + 1 : given.end_byte - 1]
            column = len(self._tree.data[: given.start_byte].rpartition(b"\n")[2])
            code = b"fn f(){(" + b" " * max(column - 7, 0) + inner + b");}"
            tree = SourceTree(code, "rust")
            inside = TestNames(tree, "rust")
            inside.take(self._names)
            yield from inside.calls(tree.root, row=line_of(given) - 1)


def statements_of(body: Node) -> list[Node]:
    """What stands in a block; comments among it."""
    inner = body
    for _ in range(MAX_DEPTH):
        held = [c for c in inner.named_children if c.type not in _COMMENTS]
        if len(held) == 1 and held[0].type in _BLOCKS and inner.type in _BLOCKS:
            inner = held[0]
        else:
            break
    return list(inner.named_children)
