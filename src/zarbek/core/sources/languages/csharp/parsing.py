"""C# as a tree; conditions of the preprocessor inside of declarations stand as their first branch."""

from __future__ import annotations

import re

from zarbek.core.sources.languages.tree import SourceTree, unread_bytes

#: Directives of conditions (ECMA-334, "Conditional compilation directives"), a line each.
_DIRECTIVE = re.compile(rb"^[ \t]*#[ \t]*(if|elif|else|endif)\b[^\n]*", re.MULTILINE)


def parse_csharp(text: bytes) -> SourceTree:
    """Raises UnreadableText for what takes too long."""
    tree = SourceTree(text, "csharp")
    if not tree.root.has_error or b"#" not in text:
        return tree
    other = SourceTree(_first_branches(text), "csharp", text)
    return min(tree, other, key=lambda t: unread_bytes(t.root))


def _first_branches(text: bytes) -> bytes:
    """The text with every condition as if its first branch held, of equal length."""
    out = bytearray(text)
    #: Where the branches that do not count begin, for each open condition; -1 for none yet.
    skipped: list[int] = []
    for match in _DIRECTIVE.finditer(text):
        word = match[1]
        if word == b"if":
            skipped.append(-1)
        elif skipped and word != b"endif" and skipped[-1] < 0:
            skipped[-1] = match.start()
        start = skipped.pop() if word == b"endif" and skipped else -1
        _blank(out, start if start >= 0 else match.start(), match.end())
    return bytes(out)


def _blank(out: bytearray, start: int, end: int) -> None:
    out[start:end] = re.sub(rb"[^\n]", b" ", bytes(out[start:end]))
