"""The documentation above a test, in its language's own form."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from tree_sitter import Node

from zarbek.core.model.doc_text import Doc
from zarbek.core.model.mention import Mention
from zarbek.core.sources.comments.block_tags import TaggedDoc
from zarbek.core.sources.comments.comment_blocks import marked_lines
from zarbek.core.sources.comments.cpp import is_documentation, read_comment
from zarbek.core.sources.comments.csharp import read_csharp_comment
from zarbek.core.sources.comments.ecmascript import read_ecmascript_comment
from zarbek.core.sources.comments.go import read_go_comment
from zarbek.core.sources.comments.java import read_java_comment
from zarbek.core.sources.comments.kotlin import read_kotlin_comment
from zarbek.core.sources.comments.rust import read_rust_comment
from zarbek.core.sources.examples.found_test import find_mark
from zarbek.core.sources.languages.syntax_tree import SourceTree, end_line_of, line_of
from zarbek.core.sources.markup.inline import MentionSink

_Read = Callable[[list[str], int, MentionSink], Doc]
_LINES = {"go": "//", "rust": "///", "csharp": "///"}


@dataclass(slots=True)
class TestComment:
    """What a comment says of its test."""

    is_example: bool = False
    title: str = ""
    doc: Doc | None = None
    mentions: list[Mention] = field(default_factory=list)


def read_test_comment(anchor: Node, tree: SourceTree, language: str) -> TestComment:
    """The comment right above a node; nothing for one that is no documentation."""
    raws, line = _above(anchor, tree, language)
    if not raws:
        return TestComment()
    marked = find_mark("\n".join(raws))
    sink = MentionSink(tree.lines)
    kept = marked.text.split("\n") if len(raws) > 1 or language in _LINES else [marked.text]
    doc = _READERS[language](kept, line, sink)
    is_empty = not doc.summary and not doc.body and not doc.sections
    return TestComment(marked.is_example, marked.title, None if is_empty else doc, sink.mentions)


def _above(anchor: Node, tree: SourceTree, language: str) -> tuple[list[str], int]:
    """The comment, or the lines of comments that follow one another, right above a node."""
    raws: list[str] = []
    node, line = anchor.prev_named_sibling, line_of(anchor)
    while node is not None and node.type == "attribute_item":
        line, node = line_of(node), node.prev_named_sibling
    while node is not None and "comment" in node.type:
        text = tree.text(node).rstrip("\n")
        ends = end_line_of(node) - (1 if tree.text(node).endswith("\n") else 0)
        if line - ends > 1 or not _is_documentation(text, language):
            break
        raws.insert(0, text)
        line = line_of(node)
        if text.startswith("/*"):
            break
        node = node.prev_named_sibling
    return raws, line


def _is_documentation(text: str, language: str) -> bool:
    if language in ("c", "cpp"):
        return is_documentation(text)
    if language in _LINES:
        return text.startswith(_LINES[language]) and not text.startswith(_LINES[language] + "/")
    return text.startswith("/**") and text != "/**/"


def _of_lines(read: Callable[[list[str], int, MentionSink], Doc], mark: int) -> _Read:
    return lambda raws, line, sink: read(marked_lines(raws, mark), line, sink)


def _of_block(read: Callable[[str, int, MentionSink], TaggedDoc]) -> _Read:
    return lambda raws, line, sink: read("\n".join(raws), line, sink).doc


_READERS: dict[str, _Read] = {
    "java": _of_block(read_java_comment),
    "kotlin": _of_block(lambda raw, line, sink: read_kotlin_comment(raw, line, sink, frozenset())),
    "javascript": _of_block(read_ecmascript_comment),
    "typescript": _of_block(read_ecmascript_comment),
    "c": lambda raws, line, sink: read_comment(raws, line, sink).doc,
    "cpp": lambda raws, line, sink: read_comment(raws, line, sink).doc,
    "csharp": _of_lines(lambda lines, line, sink: read_csharp_comment(lines, line, sink).doc, 3),
    "go": _of_lines(lambda lines, line, sink: read_go_comment(lines, line, sink, frozenset()), 2),
    "rust": _of_lines(read_rust_comment, 3),
}
