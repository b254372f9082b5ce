"""Declarations of Kotlin. Source: Kotlin language specification, section Declarations."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

_MODIFIERS = (
    r"(?:@\w+(?:\([^)]*\))?\s+)*(?:(?:public|protected|internal|private|open|abstract|final|sealed|data|inner|value|enum|"
    r"annotation|override|operator|infix|inline|tailrec|suspend|external|const|lateinit|expect|actual|fun)\s+)*"
)
_DECLARED = re.compile(rf"{_MODIFIERS}(?:(?:class|interface|object|fun|val|var|typealias)\b|constructor\s*\()")
_VALUE = re.compile(r"[A-Z]\w*")
_NESTED = re.compile(r"((?:class|interface|object)\s+)(?:\w+\.)+(\w+)")


def kotlin_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its package and types."""
    outer, types = (owner.names, ()) if not owner.is_type else (owner.names[:-1], owner.names[-1:])
    if owner.package:
        outer, types = (), owner.names
    space = owner.package or ".".join(outer)
    package = f"package {space}\n" if space else ""
    if owner.kind == "enum" and _VALUE.fullmatch(text):
        return Form("x.kt", f"{package}enum class {types[-1]} {{", text, "}")
    if not _DECLARED.match(text):
        return None
    keyword = "interface" if owner.kind == "interface" else "class"
    before = "".join(f"{keyword if n == len(types) else 'class'} {name} {{ " for n, name in enumerate(types, 1))
    line = _NESTED.sub(r"\1\2", text, count=1)
    return Form("x.kt", package + before, line.partition("{")[0].rstrip(), "} " * len(types))
