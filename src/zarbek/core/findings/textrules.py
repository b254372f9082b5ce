"""Findings that one symbol's text and signature give by themselves."""

from __future__ import annotations

import keyword
import re
from collections.abc import Collection, Iterable, Mapping
from itertools import islice
from types import MappingProxyType

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.doctext import DocField
from zarbek.core.model.finding import Finding
from zarbek.core.model.symbol import Parameter, Symbol

_NOTHING: Mapping[str, Collection[str]] = MappingProxyType({})
_OPEN = ("variadic", "keywords")
#: Types about which text and signature can disagree without either being an alias of the other.
_PLAIN = frozenset({"int", "str", "float", "bool", "bytes", "list", "dict", "tuple", "set", "complex"})
_STANDARD = frozenset({"textio", "binaryio", "path", "date", "datetime", "timedelta", "decimal", "uuid"})
_NUMBERS = frozenset({"int", "float", "bool", "complex"})
_ECMASCRIPT = frozenset({"javascript", "typescript"})
_WORDS = re.compile(r"[A-Za-z_]\w*")
_LOOSE = frozenset({"None", "optional", "Optional", "Union", "or", "of", "typing", "t", "default"})


def check_symbols(symbols: Iterable[Symbol], left_out: Mapping[str, Collection[str]] = _NOTHING) -> list[Finding]:
    """stale/parameter and text/type-conflict of one file's symbols, in their order.

    left_out: of a symbol's path, names that its declaration has in a comment only.
    A class may describe its attributes and its methods' parameters: those are known names too.
    """
    all_symbols = list(symbols)
    documented = [s for s in all_symbols if s.doc is not None and s.doc.parameters and s.signatures]
    if not documented:
        return []
    members: dict[str, set[str]] = {}
    for symbol in all_symbols:
        names = members.setdefault(symbol.parent, set())
        names.add(symbol.name)
        names.update(p.name for signature in symbol.signatures for p in signature.parameters)
    return [
        f for s in documented if s.visibility != "private"
        for f in _check(s, members.get(s.path, set()) | set(left_out.get(s.path, ())))
    ]  # fmt: skip


def _check(symbol: Symbol, also_known: set[str]) -> list[Finding]:
    declared = {p.name: p for signature in symbol.signatures for p in signature.parameters}
    # A decorator of someone's own may change the signature; variadic ones take any name.
    is_told = bool(declared) or _takes_nothing(symbol)
    is_closed = is_told and not symbol.decorators and all(p.kind not in _OPEN for p in declared.values())
    # What is taken apart in the signature has no name there; a mark of privacy is no part of a name.
    is_closed = is_closed and not any(name.startswith(("{", "[")) for name in declared)
    # Of overloads in these languages the one that is carried out has names of its own, which nobody is shown.
    is_closed = is_closed and (len(symbol.signatures) < 2 or symbol.language not in _ECMASCRIPT)
    after = min((r.line for r in symbol.doc.returns), default=0) if symbol.doc else 0
    bare = {name.strip("_") for name in declared}
    generics = {w for signature in symbol.signatures for g in signature.type_parameters for w in _WORDS.findall(g)}
    found: list[Finding] = []
    for documented in symbol.doc.parameters if symbol.doc else ():
        name = documented.name.lstrip("*")
        if name in declared:
            found += _type_conflict(symbol, documented, declared[name])
        elif name in generics or name.strip("_") in bare:
            continue
        elif after and documented.line > after and symbol.language in _ECMASCRIPT:
            continue  # Of the function that is returned.
        elif name in also_known or not name.isidentifier() or keyword.iskeyword(name):
            continue
        elif is_closed or _stands_for_another(symbol, documented, declared):
            found.append(_unknown_parameter(symbol, documented, name, declared))
    return found


def _takes_nothing(symbol: Symbol) -> bool:
    """Whether a function is known to have no parameters, not only to show none."""
    if symbol.kind not in ("function", "method", "constructor") or symbol.language in _ECMASCRIPT:
        return False  # A script's function takes what it is given; an empty one tells heirs what they will get.
    return symbol.language == "python" or all("()" in s.text or "(void)" in s.text for s in symbol.signatures)


def _stands_for_another(symbol: Symbol, documented: DocField, declared: Mapping[str, Parameter]) -> bool:
    """Whether a name that further keywords would take is told where the signature has another that must be
    given, which is not told: keywords are described last."""
    kinds = {p.kind for p in declared.values()}
    if "keywords" not in kinds or "variadic" in kinds or symbol.decorators or symbol.doc is None:
        return False
    names = [d.name.lstrip("*") for d in symbol.doc.parameters]
    at = symbol.doc.parameters.index(documented)
    there = next(islice((p for p in declared.values() if p.name not in ("self", "cls")), at, None), None)
    return there is not None and there.kind == "positional" and not there.default and there.name not in names


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
