"""What trees of HTML document, together with what sources declare: one element each, wherever it stands."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec

from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.naming import enclosing_of, key_of, lies_in
from zarbek.core.model.symbol import Symbol
from zarbek.core.sources.htmltrees.declarations.form import separator_of

_ENCODE = msgspec.json.Encoder().encode
_DECODE = msgspec.json.Decoder(Symbol).decode
#: What encloses elements where no page is about it, by language.
_SPACES = {"java": "package", "cpp": "namespace", "c": "module", "python": "module"}
#: What is documented beside a type, to what it is as its member.
_MEMBERS = {"function": "method", "variable": "field"}


class _Known(msgspec.Struct):
    path: str
    kind: str


def join_symbols(declared: list[bytes], documented: Iterable[Symbol]) -> list[bytes]:
    """All symbols of a release, encoded, by path.

    declared: by sources, encoded. documented: by pages, in the order of these; what sources declare has their text, and
    the place of its page; of several pages the one that is about the element as a whole counts, else the first.
    """
    found = _once(documented)
    if not found:
        return declared
    decode = msgspec.json.Decoder(_Known).decode
    known = [decode(line) for line in declared]
    by_path = {one.path: line for one, line in zip(known, declared, strict=True)}
    kinds = {one.path: one.kind for one in found.values()} | {one.path: one.kind for one in known}
    found = _as_members(found, kinds)
    by_key: dict[str, list[str]] = {}
    for path in by_path:
        by_key.setdefault(key_of(path), []).append(path)
    for path, symbol in found.items():
        alike = by_key.get(key_of(path), [])
        if path in by_path or len(alike) == 1:
            own = path if path in by_path else alike[0]
            by_path[own] = _ENCODE(msgspec.structs.replace(_DECODE(by_path[own]), place=symbol.place))
        elif not alike:  # Of several that a page spells in another way, none can be told to be the one.
            by_path[path] = _ENCODE(symbol)
    for symbol in _enclosing(list(found.values()), by_path):
        by_path[symbol.path] = _ENCODE(symbol)
    return [by_path[path] for path in sorted(by_path)]


def _once(documented: Iterable[Symbol]) -> dict[str, Symbol]:
    found: dict[str, Symbol] = {}
    for symbol in documented:
        known = found.get(symbol.path)
        if known is None or (_is_whole(symbol) and not _is_whole(known)):
            found[symbol.path] = symbol
    return found


def _as_members(found: dict[str, Symbol], kinds: dict[str, str]) -> dict[str, Symbol]:
    """What pages document, as members where they stand in a type: a page about something else does not show that.
    kinds: of all names."""
    return {
        path: msgspec.structs.replace(symbol, kind=_MEMBERS[symbol.kind])
        if symbol.kind in _MEMBERS and kinds.get(symbol.parent) in TYPE_KINDS
        else symbol
        for path, symbol in found.items()
    }


def _is_whole(symbol: Symbol) -> bool:
    return symbol.place is not None and not symbol.place.anchor


def _enclosing(found: list[Symbol], known: dict[str, bytes]) -> list[Symbol]:
    """Packages, namespaces, modules and types that no page is about."""
    made: dict[str, Symbol] = {}

    def make(path: str, kind: str, of: Symbol, parent: str) -> None:
        if path and path not in known and path not in made:
            name = path.rpartition(separator_of(of.language))[2]
            made[path] = Symbol(path, name, kind, of.language, of.module, parent, file=of.file)

    for symbol in found:
        if symbol.parent != symbol.module:
            make(symbol.parent, "class", symbol, enclosing_of(symbol.parent) or symbol.module)
    for symbol in (*found, *made.values()):
        names = _spaces(symbol)
        for name, outer in zip(names, (*names[1:], ""), strict=True):
            make(name, _SPACES.get(symbol.language, "module"), symbol, outer)
    return list(made.values())


def _spaces(symbol: Symbol) -> list[str]:
    """The module of a symbol, and what encloses that; packages of Java lie in nothing (JLS 17, section 7.1)."""
    names = [symbol.module]
    while symbol.language not in ("c", "java") and "/" not in names[-1] and (outer := enclosing_of(names[-1])):
        names.append(outer)
    return names


def roots_of(documented: Iterable[Symbol]) -> dict[str, list[str]]:
    """Language to the names below which all is the tree's: packages, namespaces and modules that lie in no other."""
    modules: dict[str, set[str]] = {}
    for symbol in documented:
        names = modules.setdefault(symbol.language, set())
        if symbol.language != "c" and "/" not in symbol.module and symbol.module:
            names.add(symbol.module)
    return {language: _outermost(names) for language, names in sorted(modules.items())}


def _outermost(names: set[str]) -> list[str]:
    kept: list[str] = []
    for name in sorted(names, key=lambda n: (len(n), n)):
        if not any(lies_in(name, other) for other in kept):
            kept.append(name)
    return sorted(kept)
