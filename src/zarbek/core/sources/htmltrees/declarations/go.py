"""Declarations of Go. Source: The Go Programming Language Specification, section Declarations and scope."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

_DECLARED = re.compile(r"(?:func|type|const|var)\s")
_HOLDER = re.compile(r"type\s+\w+(?:\[[^\]]*\])?\s+(?:struct|interface)\b")
#: Braces of a type that stands in a declaration.
_EMPTY = re.compile(r"(?:struct|interface)\s*\{\s*\}")


def go_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its package, whose address is the owner's package, else its names."""
    if not _DECLARED.match(text):
        return None
    module = owner.package or "/".join(owner.names if not owner.is_type else owner.names[:-1])
    name = module.rpartition("/")[2] or "x"
    if (held := _HOLDER.match(text)) is not None:
        text = f"{held[0]} {{}}"  # What it holds is told by places of its own.
    elif text.startswith("func") and not _EMPTY.search(text):
        text = text.partition("{")[0].rstrip()
    return Form("x.go", f"package {re.sub(r'[^A-Za-z0-9_]', '_', name)}", text, "", module)
