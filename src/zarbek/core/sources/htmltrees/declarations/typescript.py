"""Declarations of TypeScript. Source: ECMAScript 2024, sections 14 to 16; annotations as TypeScript's handbook has
them."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

_ITEM = re.compile(
    r"(?:export\s+)?(?:default\s+)?(?:declare\s+)?(?:abstract\s+|async\s+)*"
    r"(?P<keyword>class|interface|enum|const\s+enum|type|function|const|let|var|namespace)\s+[\w$.]+"
)
_HOLDERS = frozenset({"class", "interface", "enum", "const enum", "namespace"})
_MEMBER = re.compile(
    r"(?:(?:public|protected|static|abstract|readonly|async|get|set|override)\s+)*"
    r"(?:constructor|new\s+[\w$]+|[A-Za-z_$][\w$]*)\??\s*(?:<[^()]*>)?\s*(?:\(.*\)\s*(?::\s*\S.*)?|:\s*\S.*)"
)
_VALUE = re.compile(r"[A-Za-z_$][\w$]*(?:\s*[=:]\s*(?:[\w.]+|\"[^\"]*\"|'[^']*'))?")


def typescript_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its module and type."""
    names = owner.names[:-1] if owner.is_type else owner.names
    module = owner.package or ".".join(names)
    found = _ITEM.match(text)
    if found is not None and (not owner.is_type or found["keyword"] != "const"):
        head = re.sub(r"^(?:export\s+|default\s+|declare\s+)*", "", text)
        if found["keyword"] in _HOLDERS:
            head = f"{head.partition('{')[0].rstrip()} {{}}"
        return Form("x.d.ts", "", f"export {head};", "", module)
    if not owner.is_type:
        return _called(text, module)
    if owner.kind == "enum":
        return (
            Form("x.d.ts", f"export enum {owner.names[-1]} {{", text, "}", module) if _VALUE.fullmatch(text) else None
        )
    if not _MEMBER.fullmatch(text):
        return None
    keyword = "interface" if owner.kind == "interface" else "class"
    line = re.sub(r"^new\s+[\w$]+", "constructor", text)
    if line.startswith("constructor"):
        line = line[: line.rindex(")") + 1]
    return Form("x.d.ts", f"export {keyword} {owner.names[-1]} {{", f"{line};", "}", module)


def _called(text: str, module: str) -> Form | None:
    """A function as pages write one, by its name, parameters and what it gives."""
    if re.fullmatch(r"[A-Za-z_$][\w$]*\s*(?:<[^()]*>)?\s*\(.*\)\s*:\s*\S.*", text) is None:
        return None
    return Form("x.d.ts", "", f"export function {text};", "", module)
