"""Findings that one symbol's text and signature give by themselves."""

from __future__ import annotations

import re
from collections.abc import Iterable

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.doctext import DocField
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Parameter, Symbol

_WORDS = re.compile(r"[A-Za-z_]\w*")
_LOOSE = frozenset({"None", "optional", "Optional", "Union", "or", "of", "typing", "t", "default"})


def check_symbol(symbol: Symbol) -> list[Finding]:
    """stale/parameter and text/type-conflict of one symbol, in order of its text."""
    doc = symbol.doc
    if doc is None or not doc.parameters or not symbol.signatures or symbol.visibility == "private":
        return []
    declared = {p.name: p for signature in symbol.signatures for p in signature.parameters}
    is_closed = bool(declared) and all(p.kind != "keywords" for p in declared.values())
    found: list[Finding] = []
    for documented in doc.parameters:
        name = documented.name.lstrip("*")
        if name in declared:
            found += _type_conflict(symbol, documented, declared[name])
        elif is_closed and name.isidentifier():
            found.append(_unknown_parameter(symbol, documented, name, declared))
    return found


def _unknown_parameter(symbol: Symbol, documented: DocField, name: str, declared: Iterable[str]) -> Finding:
    undocumented = [p for p in declared if p not in {d.name for d in (symbol.doc.parameters if symbol.doc else [])}]
    suggestion = undocumented[0] if len(undocumented) == 1 else ""
    return Finding(
        "stale/parameter", "warning", symbol.path,
        f"The text describes the parameter {name}, which {symbol.name} does not have.",
        file=symbol.file, line=documented.line, text=name, target=symbol.path, suggestion=suggestion,
        why="the only parameter without a description" if suggestion else "",
        fingerprint=fingerprint("stale/parameter", symbol.path, name),
    )  # fmt: skip


def _type_conflict(symbol: Symbol, documented: DocField, declared: Parameter) -> list[Finding]:
    if not documented.type or not declared.type:
        return []
    written, real = _type_words(documented.type), _type_words(declared.type)
    if not written or not real or written & real or not _plain(documented.type):
        return []
    return [
        Finding(
            "text/type-conflict", "warning", symbol.path,
            f"The text says that {documented.name} is {documented.type}; the signature says {declared.type}.",
            file=symbol.file, line=documented.line, text=documented.type, target=symbol.path,
            suggestion=declared.type, why="the signature's annotation",
            fingerprint=fingerprint("text/type-conflict", symbol.path, documented.name),
        )
    ]  # fmt: skip


def _plain(text: str) -> bool:
    """Whether a documented type is a type expression rather than prose about one."""
    return re.fullmatch(r"[\w.\[\], |:`~]+", text) is not None and len(text.split()) <= 3


def _type_words(text: str) -> set[str]:
    return {w.rpartition(".")[2].lower() for w in _WORDS.findall(text) if w not in _LOOSE}
