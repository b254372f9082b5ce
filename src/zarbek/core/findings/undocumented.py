"""text/undocumented: what everybody may use and nobody describes."""

from __future__ import annotations

from collections.abc import Iterable
from typing import NamedTuple

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.finding import Finding
from zarbek.core.model.naming import is_inner_name, key_of
from zarbek.core.model.symbol import GENERATED, Symbol

_TOLD_KINDS = frozenset(
    "class enum exception interface record struct union trait annotation object delegate concept type function "
    "method macro".split()
)
_NAMED = 4


class UndocumentedSymbol(NamedTuple):
    """A type or function without text."""

    path: str
    file: str
    line: int


def asked_of(symbols: Iterable[Symbol]) -> list[int]:
    """Which of one file's symbols readers expect a text on: the public types and functions.

    Methods of a class with bases, and those that are marked as overriding, may have the text of what
    they override.
    """
    listed = list(symbols)
    by_path = {s.path: s for s in listed}
    return [
        at for at, s in enumerate(listed)
        if s.kind in _TOLD_KINDS and GENERATED not in s.flags
        and _is_for_all(s, by_path) and not _may_inherit(s, by_path)
    ]  # fmt: skip


def _is_for_all(symbol: Symbol, by_path: dict[str, Symbol]) -> bool:
    at: Symbol | None = symbol
    while at is not None:
        if at.visibility != "public":
            return False
        at = by_path.get(at.parent) if at.parent != at.path else None
    if is_inner_name(symbol.path, symbol.language):
        return False
    return not any(part.startswith("_") for part in symbol.module.split("."))


def _may_inherit(symbol: Symbol, by_path: dict[str, Symbol]) -> bool:
    owner = by_path.get(symbol.parent)
    is_member = owner is not None and owner.kind in _TOLD_KINDS
    return is_member and (bool(owner and owner.bases) or bool({"override", "untold"} & set(symbol.flags)))


def undocumented(module: str, bare: list[UndocumentedSymbol], asked: int) -> Finding:
    """One finding a module. bare: those without text, by place; asked: how many there are in all."""
    names = ", ".join(dict.fromkeys(key_of(b.path).rpartition(".")[2] for b in bare[:_NAMED]))
    more = f" and {len(bare) - _NAMED} more" if len(bare) > _NAMED else ""
    have = "has" if len(bare) == 1 else "have"
    first = bare[0]
    return Finding(
        "text/undocumented", "note", module,
        f"{len(bare)} of {asked} public types and functions {have} no documentation: {names}{more}.",
        file=first.file, line=first.line, text=key_of(first.path).rpartition(".")[2], target=module,
        fingerprint=fingerprint("text/undocumented", module, ""),
    )  # fmt: skip
