"""C# as a tree; conditions of the preprocessor inside of declarations stand as their first branch."""

from __future__ import annotations

import re

from zarbek.core.sources.languages.preprocessor import first_branches
from zarbek.core.sources.languages.syntax_tree import SourceTree, unread_bytes

#: Directives of conditions (ECMA-334, "Conditional compilation directives"), a line each.
_DIRECTIVE = re.compile(rb"^[ \t]*#[ \t]*(if|elif|else|endif)\b[^\n]*", re.MULTILINE)


def parse_csharp(text: bytes) -> SourceTree:
    """Raises UnreadableText for what takes too long."""
    tree = SourceTree(text, "csharp")
    if not tree.root.has_error or b"#" not in text:
        return tree
    other = SourceTree(first_branches(text, _DIRECTIVE, lambda *_: True), "csharp", text)
    return min(tree, other, key=lambda t: unread_bytes(t.root))
