"""Findings that one symbol's text and signature give by themselves."""

from __future__ import annotations

import keyword
import re
from collections.abc import Iterable

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.doctext import DocField
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Parameter, Symbol

_OPEN = ("variadic", "keywords")
#: Types about which text and signature can disagree without either being an alias of the other.
_PLAIN = frozenset({"int", "str", "float", "bool", "bytes", "list", "dict", "tuple", "set", "complex"})
_STANDARD = frozenset({"textio", "binaryio", "path", "date", "datetime", "timedelta", "decimal", "uuid"})
_NUMBERS = frozenset({"int", "float", "bool", "complex"})
_WORDS = re.compile(r"[A-Za-z_]\w*")
_LOOSE = frozenset({"None", "optional", "Optional", "Union", "or", "of", "typing", "t", "default"})


_TOLD_KINDS = frozenset(
    "class enum exception interface record struct union trait annotation object delegate concept type function "
    "method macro".split()
)
_NAMED = 4


def check_symbols(symbols: Iterable[Symbol]) -> list[Finding]:
    """stale/parameter, text/type-conflict and text/undocumented of one file's symbols, in their order.

    A class may describe its attributes and its methods' parameters: those are known names too.
    """
    all_symbols = list(symbols)
    return _check_fields(all_symbols) + _undocumented(all_symbols)


def _undocumented(symbols: list[Symbol]) -> list[Finding]:
    """One finding a file for the types and functions in it that everybody may use and nobody describes.

    Methods of a class with bases, and those that are marked as overriding, may have the text of what
    they override.
    """
    by_path = {s.path: s for s in symbols}
    asked = [s for s in symbols if s.kind in _TOLD_KINDS and _is_for_all(s, by_path) and not _may_inherit(s, by_path)]
    bare = [s for s in asked if s.doc is None or not (s.doc.summary or s.doc.body)]
    if not bare:
        return []
    names = ", ".join(s.name for s in bare[:_NAMED])
    more = f" and {len(bare) - _NAMED} more" if len(bare) > _NAMED else ""
    have = "has" if len(bare) == 1 else "have"
    return [
        Finding(
            "text/undocumented", "note", bare[0].module,
            f"{len(bare)} of {len(asked)} public types and functions {have} no documentation: {names}{more}.",
            file=bare[0].file, line=bare[0].line, text=bare[0].name, target=bare[0].module,
            fingerprint=fingerprint("text/undocumented", bare[0].file, ""),
        )
    ]  # fmt: skip


def _is_for_all(symbol: Symbol, by_path: dict[str, Symbol]) -> bool:
    at: Symbol | None = symbol
    while at is not None:
        if at.visibility != "public":
            return False
        at = by_path.get(at.parent) if at.parent != at.path else None
    return not any(part.startswith("_") for part in symbol.module.split("."))


def _may_inherit(symbol: Symbol, by_path: dict[str, Symbol]) -> bool:
    owner = by_path.get(symbol.parent)
    is_member = owner is not None and owner.kind in _TOLD_KINDS
    return is_member and (bool(owner and owner.bases) or bool({"override", "untold"} & set(symbol.flags)))


def _check_fields(all_symbols: list[Symbol]) -> list[Finding]:
    documented = [s for s in all_symbols if s.doc is not None and s.doc.parameters and s.signatures]
    if not documented:
        return []
    members: dict[str, set[str]] = {}
    for symbol in all_symbols:
        names = members.setdefault(symbol.parent, set())
        names.add(symbol.name)
        names.update(p.name for signature in symbol.signatures for p in signature.parameters)
    return [f for s in documented if s.visibility != "private" for f in _check(s, members.get(s.path, set()))]


def _check(symbol: Symbol, also_known: set[str]) -> list[Finding]:
    declared = {p.name: p for signature in symbol.signatures for p in signature.parameters}
    # A decorator of someone's own may change the signature; variadic ones take any name.
    is_closed = bool(declared) and not symbol.decorators and all(p.kind not in _OPEN for p in declared.values())
    # What is taken apart in the signature has no name there; a mark of privacy is no part of a name.
    is_closed = is_closed and not any(name.startswith(("{", "[")) for name in declared)
    bare = {name.strip("_") for name in declared}
    generics = {w for signature in symbol.signatures for g in signature.type_parameters for w in _WORDS.findall(g)}
    found: list[Finding] = []
    for documented in symbol.doc.parameters if symbol.doc else ():
        name = documented.name.lstrip("*")
        if name in declared:
            found += _type_conflict(symbol, documented, declared[name])
        elif name in generics or name.strip("_") in bare:
            continue
        elif is_closed and name not in also_known and name.isidentifier() and not keyword.iskeyword(name):
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
    if not documented.type or not declared.type or symbol.language != "python":
        return []
    written, real = _type_words(documented.type), _type_words(declared.type)
    if not written <= _PLAIN or not real <= _PLAIN | _STANDARD or written & real or "any" in real or "object" in real:
        return []
    if not written or not real or (real | written) <= _NUMBERS:
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


def _type_words(text: str) -> set[str]:
    return {w.rpartition(".")[2].lower() for w in _WORDS.findall(text) if w not in _LOOSE}
