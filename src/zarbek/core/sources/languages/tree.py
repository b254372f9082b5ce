"""A parsed source file: bytes, lines and the nodes of its grammar."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from functools import cached_property, lru_cache
from importlib import import_module

from tree_sitter import Language, Node, Parser, Tree

from zarbek.core.sources.source_text import UnreadableText

#: Language to the module and the function that give its grammar.
_GRAMMARS = {
    "java": ("tree_sitter_java", "language"),
    "kotlin": ("tree_sitter_kotlin", "language"),
    "c": ("tree_sitter_c", "language"),
    "cpp": ("tree_sitter_cpp", "language"),
    "csharp": ("tree_sitter_c_sharp", "language"),
    "javascript": ("tree_sitter_javascript", "language"),
    "typescript": ("tree_sitter_typescript", "language_typescript"),
    "tsx": ("tree_sitter_typescript", "language_tsx"),
    "go": ("tree_sitter_go", "language"),
    "rust": ("tree_sitter_rust", "language"),
}
MAX_PARSE_S = 20.0
MAX_DEPTH = 60
_COMMENT = re.compile(rb"/\*.*?\*/|//[^\n]*", re.DOTALL)
_SPACE = re.compile(r"\s+")
_OPENED = re.compile(r"([(\[<]) | (?=[)\],;])")


@lru_cache(maxsize=16)
def _parser(grammar: str) -> Parser:
    module, function = _GRAMMARS[grammar]
    return Parser(Language(getattr(import_module(module), function)()))


def parse(data: bytes, grammar: str) -> Tree:
    """Raises UnreadableText when the grammar takes longer than MAX_PARSE_S."""
    deadline = time.monotonic() + MAX_PARSE_S
    parser = _parser(grammar)
    if len(data) < 2**18:
        return parser.parse(data)

    def read(offset: int, _point: object) -> bytes:
        if time.monotonic() > deadline:
            return b""
        return data[offset : offset + 65536]

    tree = parser.parse(read)
    if time.monotonic() > deadline:
        raise UnreadableText(f"parsing it takes longer than {MAX_PARSE_S:.0f} s", 1)
    return tree


class SourceTree:
    """data: what was parsed, in UTF-8. original: the same with equal offsets, before any
    blanking; texts are cut from it."""

    def __init__(self, data: bytes, grammar: str, original: bytes | None = None) -> None:
        self.data = data if original is None else original
        self.root = parse(data, grammar).root_node

    @cached_property
    def lines(self) -> list[str]:
        return self.data.decode(errors="replace").split("\n")

    def text(self, node: Node | None) -> str:
        return self.data[node.start_byte : node.end_byte].decode(errors="replace") if node is not None else ""

    def folded(self, node: Node | None) -> str:
        """The node's text on one line, without comments."""
        return self.between(node.start_byte, node.end_byte) if node is not None else ""

    def between(self, start: int, end: int) -> str:
        return fold(self.data[start:end])


def fold(raw: bytes) -> str:
    """Source text on one line: no comments, one blank at most, none inside brackets' edges."""
    if b"/*" in raw or b"//" in raw:
        raw = _COMMENT.sub(b" ", raw)
    text = raw.decode(errors="replace")
    if "\n" in text or "  " in text or "\t" in text or b"/" in raw:
        text = _OPENED.sub(r"\1", _SPACE.sub(" ", text))
    return text.strip()


def line_of(node: Node) -> int:
    return node.start_point[0] + 1


def end_line_of(node: Node) -> int:
    return node.end_point[0] + 1


def find_children(node: Node, *types: str) -> Iterator[Node]:
    for child in node.named_children:
        if child.type in types:
            yield child


def find_child(node: Node, *types: str) -> Node | None:
    return next(find_children(node, *types), None)


#: Parts of a declaration that nothing is read from.
_BODIES = frozenset({"compound_statement", "block", "statement_block", "constructor_body", "field_initializer_list",
                     "function_body", "initializer_list", "macro_definition"})  # fmt: skip


def first_error(root: Node) -> Node | None:
    """The first place outside of bodies that the grammar could not read, or None.

    Cost: the nodes that hold an error.
    """
    pending = [root]
    while pending:
        node = pending.pop()
        if node.is_error or node.is_missing:
            return node
        broken = [c for c in node.children if (c.has_error or c.is_missing) and c.type not in _BODIES]
        pending += reversed(broken)
    return None
