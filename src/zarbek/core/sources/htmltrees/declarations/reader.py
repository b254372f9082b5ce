"""Declarations as a page shows them to symbols, by the readers of the languages that they are in: what those know as
one declaration, and nothing else, is one."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Callable

import msgspec

from zarbek.core.errors import UnreadableText
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.declarations.cpp import cpp_form
from zarbek.core.sources.htmltrees.declarations.csharp import csharp_form
from zarbek.core.sources.htmltrees.declarations.form import NO_OWNER, Form, Owner
from zarbek.core.sources.htmltrees.declarations.go import go_form
from zarbek.core.sources.htmltrees.declarations.java import java_form
from zarbek.core.sources.htmltrees.declarations.kotlin import kotlin_form
from zarbek.core.sources.htmltrees.declarations.python import python_form
from zarbek.core.sources.htmltrees.declarations.rust import rust_form
from zarbek.core.sources.htmltrees.declarations.typescript import typescript_form
from zarbek.core.sources.languages.reading import SourceFile
from zarbek.core.sources.languages.registry import read_source
from zarbek.core.sources.source_text import FALLS

#: A longer text is none.
MAX_DECLARATION = 2_000
_FORMS: dict[str, Callable[[str, Owner], Form | None]] = {
    "cpp": cpp_form, "c": cpp_form, "java": java_form, "python": python_form,
    "rust": rust_form, "csharp": csharp_form, "go": go_form, "kotlin": kotlin_form, "typescript": typescript_form,
}  # fmt: skip

#: Languages in which a declaration begins with what it gives, and words with which those of others begin.
_WITH_TYPES_FIRST = frozenset({"c", "cpp", "csharp", "java"})
_FOREIGN = re.compile(
    r"(?:pub(?:\([^)]*\))?|fn|func|fun|def|impl|let|val|trait|function|typealias)\s+\w|async fn|unsafe fn"
)


def read_declaration(text: str, language: str, owner: Owner = NO_OWNER) -> Symbol | None:
    """The symbol that a text declares, within its owner; None where it is no declaration of the language."""
    if len(text) > MAX_DECLARATION or language not in _FORMS:
        return None
    text = _plain(text)
    if language in _WITH_TYPES_FIRST and _FOREIGN.match(text):
        return None
    form = _FORMS[language](text, owner)
    symbol = _read(form, language) if form is not None else None
    return _as_member(_rooted(symbol), owner) if symbol is not None else None


def _read(form: Form, language: str) -> Symbol | None:
    source = SourceFile(form.file, language, form.module)
    try:
        reading = read_source(f"{form.before}\n{form.line}\n{form.after}".encode(), source)
    except (UnreadableText, SyntaxError, *FALLS):
        return None
    if any(finding.rule == "text/unreadable" for finding in reading.findings):
        return None
    first = form.before.count("\n") + 2
    lines = range(first, first + form.line.count("\n") + 1)
    found = [symbol for symbol in reading.symbols if symbol.line in lines]
    return min(found, key=lambda symbol: len(symbol.path), default=None)


def _rooted(symbol: Symbol) -> Symbol:
    """What stands in no module is called by its own name: what Python has built in."""
    if not symbol.path.startswith("."):
        return symbol
    return msgspec.structs.replace(symbol, path=symbol.path[1:], parent=symbol.parent.removeprefix("."))


def _as_member(symbol: Symbol, owner: Owner) -> Symbol:
    """A constant of its enumeration's own type is one of its values."""
    if owner.kind == "enum" and symbol.kind == "constant" and symbol.type.rpartition(".")[2] == owner.names[-1]:
        return msgspec.structs.replace(symbol, kind="member", signatures=[])
    return symbol


def _plain(text: str) -> str:
    """On one line, up to a sign that no language has: programs set those to show more."""
    if not text.isascii():
        text = "".join(sign for sign in text if unicodedata.category(sign) != "Cf")
        cut = next((i for i, sign in enumerate(text) if unicodedata.category(sign) == "So"), None)
        text = text[:cut]
    return " ".join(text.split()).rstrip(" ;")
