"""Findings that one symbol's text and signature give by themselves."""

from __future__ import annotations

import keyword
import re
from collections.abc import Collection, Iterable, Mapping
from itertools import islice
from types import MappingProxyType

import msgspec

from zarbek.core.findings.documented_options import keys_of, parameter_of, types_in
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.doc_text import DocField
from zarbek.core.model.finding import Finding
from zarbek.core.model.naming import CONSTRUCTORS
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
    members = _names_inside(all_symbols)
    return [
        f for s in documented if s.visibility != "private"
        for f in _check(s, members.get(s.path, set()) | set(left_out.get(s.path, ())))
    ]  # fmt: skip


def _names_inside(symbols: Iterable[Symbol]) -> dict[str, set[str]]:
    """Path to the names of its members and of their parameters."""
    members: dict[str, set[str]] = {}
    for symbol in symbols:
        names = members.setdefault(symbol.parent, set())
        names.add(symbol.name)
        names.update(p.name for signature in symbol.signatures for p in signature.parameters)
    return members


class ConditionalFinding(msgspec.Struct, frozen=True, array_like=True):
    """A finding that holds if something has no such parameter or member. function: path of the one whose further
    keywords it may be among. types: those whose member it may be, as written."""

    finding: Finding
    name: str
    function: str = ""
    types: list[str] = []


def doubted_options(symbols: Iterable[Symbol]) -> list[ConditionalFinding]:
    """stale/parameter of texts that tell of one option of a bag that the signature knows, or gives a type."""
    found: list[ConditionalFinding] = []
    for symbol in symbols:
        is_told = symbol.doc is not None and len(symbol.signatures) == 1 and symbol.visibility != "private"
        if not is_told or symbol.language not in _ECMASCRIPT or symbol.doc is None:
            continue
        for documented in symbol.doc.parameters:
            bag, _, rest = documented.name.partition(".")
            name = rest.partition(".")[0].rstrip("[]? ")
            parameter = parameter_of(bag, symbol.signatures[0]) if name.isidentifier() else None
            if parameter is None:
                continue
            known = keys_of(parameter.name) or keys_of(parameter.type)
            types = None if known else types_in(parameter.type)
            if types or (known and name not in known):
                told = f"The text describes the option {name}, which {bag} of {symbol.name} does not have."
                found.append(
                    ConditionalFinding(_stale(symbol, documented, documented.name, told), name, types=types or [])
                )
    return found


def doubted_keywords(symbols: Iterable[Symbol], keywords: Collection[str]) -> list[ConditionalFinding]:
    """stale/parameter of texts that tell of what only a function's further keywords could be.

    keywords: paths of the functions of which it is known what becomes of these.
    """
    if not keywords:
        return []
    found: list[ConditionalFinding] = []
    all_symbols = list(symbols)
    members = _names_inside(all_symbols)
    for symbol in all_symbols:
        functions = [symbol.path, *(f"{symbol.path}.{name}" for name in CONSTRUCTORS)]
        path = next((p for p in functions if p in keywords), "")
        if not path or symbol.doc is None or symbol.visibility == "private" or symbol.decorators:
            continue
        declared = {p.name: p for signature in symbol.signatures for p in signature.parameters}
        if not declared or any(p.kind == "variadic" for p in declared.values()):
            continue
        for documented in symbol.doc.parameters:
            name = documented.name
            if not name.isidentifier() or keyword.iskeyword(name) or name in declared:
                continue
            if name not in members.get(symbol.path, ()) and not _stands_for_another(symbol, documented, declared):
                told = (
                    f"The text describes the parameter {name}, which neither {symbol.name} has nor what takes its "
                    f"further keywords."
                )
                found.append(ConditionalFinding(_stale(symbol, documented, name, told), name, function=path))
    return found


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
    of_types = {d.line for d in symbol.doc.parameters if _names_a_type(d)} if symbol.doc else set()
    for documented in symbol.doc.parameters if symbol.doc else ():
        name = documented.name.lstrip("*")
        if name in declared:
            found += _type_conflict(symbol, documented, declared[name])
        elif name in generics or name.strip("_") in bare or documented.line in of_types:
            continue
        elif after and documented.line > after and symbol.language in _ECMASCRIPT:
            continue  # Of the function that is returned.
        elif name in also_known or not name.isidentifier() or keyword.iskeyword(name):
            continue
        elif is_closed or _stands_for_another(symbol, documented, declared):
            found.append(_unknown_parameter(symbol, documented, name, declared))
    return found


def _names_a_type(documented: DocField) -> bool:
    """Whether types stand where names of parameters do, as in a line ``Point, Line``."""
    return not documented.type and not documented.text and documented.name[:1].isupper()


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
    told = f"The text describes the parameter {name}, which {symbol.name} does not have."
    return _stale(symbol, documented, name, told, suggestion)


def _stale(symbol: Symbol, documented: DocField, name: str, told: str, suggestion: str = "") -> Finding:
    return Finding(
        "stale/parameter", "warning", symbol.path, told,
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
