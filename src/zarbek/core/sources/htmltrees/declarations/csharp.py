"""Declarations of C#. Source: C# language specification (ECMA-334), sections 14 to 20."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

_MODIFIERS = (
    r"(?:\[[^\]]*\]\s*)*(?:(?:public|protected|internal|private|static|abstract|sealed|virtual|override|readonly|partial|"
    r"unsafe|extern|new|async|ref|required)\s+)*"
)
_TYPE = re.compile(rf"{_MODIFIERS}(?P<keyword>class|struct|interface|enum|record(?:\s+(?:class|struct))?)\s+\w+")
_SEEN = re.compile(r"(?:\[[^\]]*\]\s*)*(?:public|protected)\b")
_VALUE = re.compile(r"[A-Za-z_]\w*(?:\s*=\s*[\w.|<() ]+)?")


def csharp_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its namespace and types."""
    space, types = _around(owner)
    before, after = (f"namespace {space} {{ ", "} ") if space else ("", "")
    if owner.kind == "enum" and _VALUE.fullmatch(text):
        return Form("x.cs", f"{before}public enum {types[-1]} {{", text, "}" + after)
    keyword = "interface" if owner.kind == "interface" else "class"
    before += "".join(f"public {keyword if n == len(types) else 'class'} {name} {{ " for n, name in enumerate(types, 1))
    after = "} " * len(types) + after
    if (found := _TYPE.match(text)) is not None:
        return Form("x.cs", before, _type(text, found["keyword"]), after)
    if types and keyword == "class" and not _SEEN.match(text):
        return None  # Of words that nobody may use a page says nothing.
    return Form("x.cs", before, text if text.endswith("}") else f"{text};", after)


def _type(text: str, keyword: str) -> str:
    head = text.partition("{")[0].rstrip()
    line = f"{head};" if keyword.startswith("record") and head.endswith(")") else f"{head} {{}}"
    return line if _SEEN.match(line) else f"public {line}"


def _around(owner: Owner) -> tuple[str, tuple[str, ...]]:
    """The namespace and the types that a declaration stands in."""
    if not owner.is_type:
        return owner.package or ".".join(owner.names), ()
    if owner.package:
        return owner.package, owner.names
    return ".".join(owner.names[:-1]), owner.names[-1:]
