"""A parsed source file: bytes, lines and the nodes of its grammar."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from functools import cached_property, lru_cache
from importlib import import_module

from tree_sitter import Language, Node, Parser, Tree

from zarbek.core.errors import UnreadableText

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
#: Grammars read megabytes a second; a slow machine is given a tenth of that.
MAX_PARSE_S, LEAST_PARSE_S = 20.0, 1.0
SLOWEST_BYTES_A_S = 100_000
_CHUNK = 65_536
_WORD = re.compile(rb"\b[A-Za-z_]\w{2,}\b")
_MOST_WORDS = 4000
MAX_NESTING = 500
#: So many of one bracket in a file are worth a closer look.
_MANY = 20_000
_PAIRS = ((b"(", b")"), (b"[", b"]"), (b"{", b"}"), (b"<", b">"))
_BRACKETS = re.compile(rb"[()\[\]{}<>;]")
MAX_DEPTH = 60
_COMMENT = re.compile(rb"/\*.*?\*/|//[^\n]*", re.DOTALL)
_SPACE = re.compile(r"\s+")
_OPENED = re.compile(r"([(\[<]) | (?=[)\],;])")


@lru_cache(maxsize=16)
def _parser(grammar: str) -> Parser:
    module, function = _GRAMMARS[grammar]
    return Parser(Language(getattr(import_module(module), function)()))


def parse(data: bytes, grammar: str) -> Tree:
    """Raises UnreadableText when the grammar takes more of the processor's time than a text of that
    size can need: what it cannot read makes it try ever more."""
    if nests_too_deeply(data):
        raise UnreadableText(f"its brackets nest more than {MAX_NESTING} deep", 1)
    limit_s = min(MAX_PARSE_S, LEAST_PARSE_S + len(data) / SLOWEST_BYTES_A_S)
    deadline = time.thread_time() + limit_s
    parser = _parser(grammar)
    try:
        return parser.parse(
            lambda offset, _point: data[offset : offset + _CHUNK],
            progress_callback=lambda _offset, _has_error: time.thread_time() > deadline,
        )
    except ValueError as error:
        parser.reset()
        raise UnreadableText(f"parsing it takes longer than {limit_s:.0f} s", 1) from error


def nests_too_deeply(data: bytes) -> bool:
    """Whether more brackets are open at once than any source has. A grammar may take minutes for them,
    deaf to whoever would stop it; an angle that opens may be a comparison, which ends with its statement."""
    if all((n := data.count(a)) < _MANY and abs(n - data.count(b)) < MAX_NESTING for a, b in _PAIRS):
        return False
    depth = angles = 0
    for match in _BRACKETS.finditer(data):
        sign = match[0]
        if sign == b"<":
            angles += 1
        elif sign == b">":
            angles = max(angles - 1, 0)
        elif sign in b"([{":
            depth, angles = depth + 1, 0 if sign == b"{" else angles
        elif sign in b")]}":
            depth, angles = max(depth - 1, 0), 0 if sign == b"}" else angles
        else:
            angles = 0
        if depth > MAX_NESTING or angles > MAX_NESTING:
            return True
    return False


class SourceTree:
    """data: what was parsed, in UTF-8. original: the same with equal offsets, before any
    blanking; texts are cut from it."""

    def __init__(self, data: bytes, grammar: str, original: bytes | None = None) -> None:
        self.data = data if original is None else original
        self.root = parse(data, grammar).root_node

    @cached_property
    def lines(self) -> list[str]:
        """The file's lines; what is no UTF-8 is replaced."""
        return self.data.decode(errors="replace").split("\n")

    def text(self, node: Node | None) -> str:
        """A node as it is written; nothing for none."""
        return self.data[node.start_byte : node.end_byte].decode(errors="replace") if node is not None else ""

    def folded(self, node: Node | None) -> str:
        """The node's text on one line, without comments."""
        return self.between(node.start_byte, node.end_byte) if node is not None else ""

    def between(self, start: int, end: int) -> str:
        """The text between two byte offsets, in one line."""
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
    """The line that a node begins in, from 1."""
    return node.start_point[0] + 1


def end_line_of(node: Node) -> int:
    """The line that a node ends in, from 1."""
    return node.end_point[0] + 1


def find_children(node: Node, *types: str) -> Iterator[Node]:
    """A node's named children of some types, in order."""
    for child in node.named_children:
        if child.type in types:
            yield child


def find_child(node: Node, *types: str) -> Node | None:
    """The first of a node's named children of some types."""
    return next(find_children(node, *types), None)


#: Parts of a declaration that nothing is read from.
_BODIES = frozenset({"compound_statement", "block", "statement_block", "constructor_body", "field_initializer_list",
                     "function_body", "initializer_list", "macro_definition"})  # fmt: skip


def errors_in(root: Node) -> Iterator[Node]:
    """Places outside of bodies that the grammar could not read, in order.

    Cost: the nodes that hold an error.
    """
    pending = [root]
    while pending:
        node = pending.pop()
        if node.is_error or node.is_missing:
            yield node
        broken = [c for c in node.children if (c.has_error or c.is_missing) and c.type not in _BODIES]
        pending += reversed(broken)


def first_error(root: Node) -> Node | None:
    """The first of them, or None."""
    return next(errors_in(root), None)


def unread_words(tree: SourceTree) -> list[str]:
    """Words of code that the grammar could not read, sorted: names that may be declared there."""
    words: set[bytes] = set()
    pending = [tree.root] if tree.root.has_error else []
    while pending and len(words) < _MOST_WORDS:
        node = pending.pop()
        if node.type == "ERROR":
            words.update(_WORD.findall(_COMMENT.sub(b" ", tree.data[node.start_byte : node.end_byte])))
        else:
            pending += [child for child in node.children if child.has_error]
    return sorted(word.decode() for word in words)[:_MOST_WORDS]


def unread_bytes(root: Node) -> int:
    """How much of a tree the grammar could make nothing of."""
    total, pending = 0, [root]
    while pending:
        node = pending.pop()
        if node.is_error or node.is_missing:
            total += node.end_byte - node.start_byte + 1
        elif node.has_error:
            pending += node.children
    return total
