"""Declarations of Rust. Source: The Rust Reference, section Items."""

from __future__ import annotations

import re

from zarbek.core.sources.htmltrees.declarations.form import Form, Owner

_TYPE = re.compile(r"(?:pub(?:\([^)]*\))?\s+)?(?:unsafe\s+|auto\s+)*(?P<keyword>struct|enum|union|trait)\s+\w+")
#: What stands in a type and is no field of it.
_ITEM = re.compile(
    r"(?:pub(?:\([^)]*\))?\s+)?(?:default\s+|const\s+|async\s+|unsafe\s+|extern\s+(?:\"[^\"]*\"\s*)?)*"
    r"(?:(?:fn|const|type|static|macro)\b|macro_rules!)"
)
_VARIANT = re.compile(r"[A-Z]\w*\s*(?:[({=]|$)")
_FIELD = re.compile(r"(?:pub(?:\([^)]*\))?\s+)?[a-z_]\w*\s*:(?!:)")


def rust_form(text: str, owner: Owner) -> Form | None:
    """A source with a declaration in its module and type."""
    names = owner.names if not owner.is_type else owner.names[:-1]
    module = "::".join(names)
    if not module:
        return None  # All of Rust stands in a crate.
    if (found := _TYPE.match(text)) is not None:
        return Form("x.rs", "", _type(text, found["keyword"]), "", module)
    is_item = _ITEM.match(text) is not None
    if owner.is_type:
        return _member(text, owner, module, is_item=is_item)
    if not is_item:
        return None
    if text.startswith(("macro_rules!", "macro ")):
        return Form("x.rs", "#[macro_export]", text if "{" in text else f"{text} {{ () => {{}} }}", "", module)
    return Form("x.rs", "", _closed(text), "", module)


def _type(text: str, keyword: str) -> str:
    """What a type is, without what it holds, which pages write in ways of their own."""
    head, mark, _ = text.partition("{")
    if keyword in ("struct", "union") and not mark and "(" in head:
        return f"{head};"
    return f"{head} {{}}"


def _member(text: str, owner: Owner, module: str, *, is_item: bool) -> Form | None:
    name = owner.names[-1]
    if is_item:
        if owner.kind == "trait":
            return Form("x.rs", f"pub trait {name} {{", _closed(text), "}", module)
        if not text.startswith("pub"):
            return None  # What a trait asks for is told by the page of the trait.
        return Form("x.rs", f"pub struct {name}; impl {name} {{", _closed(text), "}", module)
    if owner.kind == "enum" and _VARIANT.match(text):
        return Form("x.rs", f"pub enum {name} {{", text, "}", module)
    if owner.kind in ("struct", "union") and _FIELD.match(text):
        line = text if text.startswith("pub") else f"pub {text}"
        return Form("x.rs", f"pub {owner.kind} {name} {{", line, "}", module)
    return None


def _closed(text: str) -> str:
    """An item with its end: a body that a page leaves out counts as none."""
    head = text.partition("{")[0].rstrip() if "fn" in text else text
    return f"{head};"
