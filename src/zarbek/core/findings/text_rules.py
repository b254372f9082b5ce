"""Findings that one symbol's text and signature give by themselves."""

from __future__ import annotations

import keyword
import re
from collections.abc import Callable, Collection, Iterable, Iterator, Mapping
from itertools import islice
from types import MappingProxyType

import msgspec

from zarbek.core.findings.documented_options import keys_of, parameter_of, types_in
from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.model.doc_text import Doc, DocField
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
    return [
        found for symbol in symbols
        if symbol.doc is not None and len(symbol.signatures) == 1 and symbol.visibility != "private"
        and symbol.language in _ECMASCRIPT
        for documented in symbol.doc.parameters if (found := _doubted_option(symbol, documented)) is not None
    ]  # fmt: skip


def _doubted_option(symbol: Symbol, documented: DocField) -> ConditionalFinding | None:
    bag, _, rest = documented.name.partition(".")
    name = rest.partition(".")[0].rstrip("[]? ")
    parameter = parameter_of(bag, symbol.signatures[0]) if name.isidentifier() else None
    if parameter is None:
        return None
    known = keys_of(parameter.name) or keys_of(parameter.type)
    types = [] if known else types_in(parameter.type) or []
    if not types and (not known or name in known):
        return None
    told = f"The text describes the option {name}, which {bag} of {symbol.name} does not have."
    return ConditionalFinding(_stale(symbol, documented, documented.name, told), name, types=types)


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
        if path and symbol.doc is not None and symbol.visibility != "private" and not symbol.decorators:
            found += _doubted_in(symbol, path, symbol.doc.parameters, members.get(symbol.path, set()))
    return found


def _doubted_in(
    symbol: Symbol, path: str, described: Iterable[DocField], members: Collection[str]
) -> Iterator[ConditionalFinding]:
    """path: of the function whose further keywords count. members: names of what stands in the symbol."""
    declared = {p.name: p for signature in symbol.signatures for p in signature.parameters}
    if not declared or any(p.kind == "variadic" for p in declared.values()):
        return
    for documented in described:
        name = documented.name
        if not _is_name(name) or name in declared or name in members:
            continue
        if not _stands_for_another(symbol, documented, declared):
            told = (
                f"The text describes the parameter {name}, which neither {symbol.name} has nor what takes its "
                f"further keywords."
            )
            yield ConditionalFinding(_stale(symbol, documented, name, told), name, function=path)


def _is_name(name: str) -> bool:
    return name.isidentifier() and not keyword.iskeyword(name)


def _check(symbol: Symbol, also_known: set[str]) -> list[Finding]:
    if symbol.doc is None:
        return []
    declared = {p.name: p for signature in symbol.signatures for p in signature.parameters}
    is_closed = _is_closed(symbol, declared)
    not_meant = _not_meant(symbol, symbol.doc, declared)
    found: list[Finding] = []
    for documented in symbol.doc.parameters:
        name = documented.name.lstrip("*")
        if name in declared:
            found += _type_conflict(symbol, documented, declared[name])
        elif not_meant(documented, name) or name in also_known or not _is_name(name):
            continue
        elif is_closed or _stands_for_another(symbol, documented, declared):
            found.append(_unknown_parameter(symbol, documented, name, declared))
    return found


def _is_closed(symbol: Symbol, declared: Mapping[str, Parameter]) -> bool:
    """Whether the signature shows all that can be given."""
    # A decorator of someone's own may change the signature; variadic ones take any name.
    if symbol.decorators or any(p.kind in _OPEN for p in declared.values()):
        return False
    # What is taken apart in the signature has no name there.
    if any(name.startswith(("{", "[")) for name in declared):
        return False
    # Of overloads in these languages the one that is carried out has names of its own, which nobody is shown.
    if len(symbol.signatures) > 1 and symbol.language in _ECMASCRIPT:
        return False
    return bool(declared) or _takes_nothing(symbol)


def _not_meant(symbol: Symbol, doc: Doc, declared: Iterable[str]) -> Callable[[DocField, str], bool]:
    """Whether what stands among a text's parameters is none of the function's."""
    after = min((r.line for r in doc.returns), default=0)
    bare = {name.strip("_") for name in declared}  # A mark of privacy is no part of a name.
    generics = {w for signature in symbol.signatures for g in signature.type_parameters for w in _WORDS.findall(g)}
    of_types = {d.line for d in doc.parameters if _names_a_type(d)}

    def is_other(documented: DocField, name: str) -> bool:
        of_what_is_returned = 0 < after < documented.line and symbol.language in _ECMASCRIPT
        return name in generics or name.strip("_") in bare or documented.line in of_types or of_what_is_returned

    return is_other


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
