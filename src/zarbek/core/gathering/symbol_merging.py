"""What only the whole project can tell: public names, parents, and which of two declarations of
one symbol is its reference."""

from __future__ import annotations

import posixpath
import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field

import msgspec

from zarbek.core.gathering.doc_groups import held_by_group, undescribed_groups
from zarbek.core.gathering.file_reading import FileReading
from zarbek.core.gathering.public_names import KnownChoices, with_public_names
from zarbek.core.last_answer import LastAnswer
from zarbek.core.linking.language_profile import LanguageProfile, profile_of
from zarbek.core.model.bundle import Alias, Scope
from zarbek.core.model.limits import MAX_PATH
from zarbek.core.model.naming import enclosing_of, key_of
from zarbek.core.model.symbol import Symbol
from zarbek.core.model.visibility import LEVELS
from zarbek.core.sources.languages.reading import TOLD
from zarbek.core.sources.languages.reexports import ModuleExports, resolve_aliases

_DECODER = msgspec.json.Decoder(Symbol)
_ENCODE = msgspec.json.Encoder().encode
#: Separator between modules, by language.
_SEPARATORS = {"rust": "::", "cpp": "::"}


@dataclass(slots=True)
class _Row:
    path: str
    kind: str
    described: bool
    symbol: bytes
    file: str


@dataclass(frozen=True, slots=True)
class MergedSymbols:
    """symbols: encoded, by path, each path once, at the end those with names too long to keep. aliases:
    sorted by name. scopes: by file and module.

    names: path where a symbol is defined to the one by which it is known, where they differ. hidden:
    paths where symbols are defined that nobody can reach. targets: another name of a symbol to the path where
    it is defined.
    """

    symbols: list[bytes]
    aliases: list[Alias]
    scopes: list[Scope]
    names: dict[str, str]
    hidden: set[str]
    targets: dict[str, str]


@dataclass(slots=True)
class KnownNames:
    """What was found of a project's names before, where one process asks again and again."""

    aliases: LastAnswer[list[Alias]] = field(default_factory=LastAnswer)
    chosen: KnownChoices = field(default_factory=KnownChoices)


def merge_symbols(readings: list[FileReading], before: KnownNames) -> MergedSymbols:
    """before: of the time before, which is brought up to date. Cost: linear in the number of symbols, but for those
    whose parent was not known."""
    readings = with_modules(readings, readings)
    kinds = {key_of(path): kind for r in readings for path, kind in zip(r.paths, r.kinds, strict=True)}
    paths: dict[str, str] = {}
    for path in (path for reading in readings for path in reading.paths):
        paths.setdefault(key_of(path), path)
    modules = _exports(readings)
    aliases = before.aliases.to((modules, kinds), lambda: resolve_aliases(modules, kinds))
    by_name = {alias.name: alias.path for alias in aliases}
    rows = _all_rows(readings, by_name, paths)
    known = {row.path for row in rows}
    spelt = [*(_spelt(a, paths) for a in aliases), *_other_names(readings, known), *_opened(readings, rows)]
    rows, endless = _apart(_without_stand_ins(rows, {a.name for a in spelt}))
    scopes = sorted((p.scope for r in readings for p in r.parts), key=lambda s: (s.file, s.module))
    named = with_public_names(list(_once(rows)), [a for a in spelt if a.path in known], modules, before.chosen)
    return MergedSymbols([*named.symbols, *endless], named.aliases, scopes, named.paths, named.hidden, by_name)


def _all_rows(readings: list[FileReading], by_name: dict[str, str], paths: dict[str, str]) -> list[_Row]:
    """What files declare, with what only all of them together tell: expansions, extensions, modules, groups."""
    rows = [row for reading in readings for row in _rows(reading, by_name, paths)]
    rows += _expanded(readings)
    _extend(rows, readings, by_name, paths)
    rows += _missing_modules(readings, {row.path for row in rows})
    _group(rows, readings)
    return rows


def _without_stand_ins(rows: list[_Row], others: set[str]) -> list[_Row]:
    """Without variables that are only other names of something; in order of path."""
    kept = (row for row in rows if row.path not in others or row.kind not in ("variable", "attribute"))
    return sorted(kept, key=lambda row: row.path)


class _Names(msgspec.Struct):
    path: str
    name: str
    module: str
    parent: str = ""


def _apart(rows: list[_Row]) -> tuple[list[_Row], list[bytes]]:
    """The rows, and the symbols whose names no bundle can hold: what is no name, taken for one."""
    decode = msgspec.json.Decoder(_Names).decode
    kept: list[_Row] = []
    endless: list[bytes] = []
    for row in rows:
        names = decode(row.symbol) if len(row.symbol) > MAX_PATH else None
        if names and max(map(len, (names.path, names.name, names.module, names.parent))) > MAX_PATH:
            endless.append(row.symbol)
        else:
            kept.append(row)
    return kept, endless


def _exports(readings: list[FileReading]) -> list[ModuleExports]:
    merged: dict[str, ModuleExports] = {}
    for reading in readings:
        for part in reading.parts:
            name = key_of(part.scope.module)
            own = ModuleExports(
                name, part.is_package, tuple(part.defined), (*part.aliases, *part.reexports), tuple(part.spreads),
                None if part.exported is None else tuple(part.exported),
                frozenset(alias for alias, _ in part.reexports), reading.language == "python", frozenset(part.handed),
            )  # fmt: skip
            merged[name] = merged[name].joined(own) if name in merged else own
    return list(merged.values())


_STEM = re.compile(r"(?:\.d)?\.(?:[cm]?[jt]sx?|rs)$")


def _places(readings: list[FileReading]) -> dict[str, str]:
    """Path of a file, with and without its ending, to its module, for files that are named by place."""
    found: dict[str, str] = {}
    for reading in readings:
        if reading.language in ("rust", "typescript", "javascript") and reading.parts:
            module = key_of(reading.parts[0].scope.module)
            stem = _STEM.sub("", reading.file)
            for name in (reading.file, stem, stem.removesuffix("/index") if stem.endswith("/index") else stem):
                found.setdefault(name, module)
    return found


def with_modules(readings: list[FileReading], named: list[FileReading]) -> list[FileReading]:
    """Readings with modules in place of the files that they name. named: of all files that may be named."""
    if not readings or not (by_file := _places(named)):
        return readings
    wholes = {a for reading in named for part in reading.parts for a, _ in part.reexports if a.endswith(".default")}
    return [_with_places(reading, by_file, wholes) for reading in readings]


def _with_places(reading: FileReading, by_file: dict[str, str], wholes: set[str]) -> FileReading:
    """The reading with modules in place of the files that it names. wholes: names by which modules give what they
    export as a whole."""
    if reading.language not in ("rust", "typescript", "javascript"):
        return reading

    def placed(target: str) -> str:
        if not target.startswith("file:"):
            return target
        place, bar, name = target[5:].partition("|")
        path = place.lstrip("/") if place.startswith("/") else posixpath.join(posixpath.dirname(reading.file), place)
        path = posixpath.normpath(path)
        module = by_file.get(path) or by_file.get(_STEM.sub("", path)) or "?"
        if bar and not name:
            name = "default" if f"{module}.default" in wholes else ""
        return f"{module}.{name}" if name else module

    parts = [
        msgspec.structs.replace(
            part, aliases=[(a, placed(t)) for a, t in part.aliases],
            reexports=[(a, place) for a, t in part.reexports if not _is_module(place := placed(t), t)],
            spreads=[placed(t) for t in part.spreads],
            scope=msgspec.structs.replace(
                part.scope, imports={k: placed(v) for k, v in part.scope.imports.items()},
                wildcards=[placed(w) for w in part.scope.wildcards],
            ),
        )
        for part in reading.parts
    ]  # fmt: skip
    return msgspec.structs.replace(reading, parts=parts)


def _is_module(place: str, written: str) -> bool:
    """Whether what a file should export as a whole is only the module, for which what names it stands."""
    return written.startswith("file:") and written.endswith("|") and not place.endswith(".default")


def _rows(reading: FileReading, aliases: dict[str, str], paths: dict[str, str]) -> Iterable[_Row]:
    unsettled = set(reading.unsettled)
    templates = {index for indexes in reading.templates.values() for index in indexes}
    columns = zip(reading.paths, reading.kinds, reading.described, reading.symbols, strict=True)
    for index, (path, kind, described, encoded) in enumerate(columns):
        if index in templates:
            continue
        if index in unsettled:
            path, encoded = _moved(path, encoded, profile_of(reading.language), aliases, paths)
        yield _Row(path, kind, described, encoded, reading.file)


def _expanded(readings: list[FileReading]) -> Iterable[_Row]:
    """The symbols that macros write into what calls them, once for each place."""
    templates: dict[str, list[tuple[FileReading, int]]] = {}
    for reading in readings:
        for name, indexes in reading.templates.items():
            templates.setdefault(name, []).extend((reading, index) for index in indexes)
    if not templates:
        return
    taken: set[str] = set()
    for reading in readings:
        for name, parent in reading.expansions:
            for origin, index in templates.get(name, ()):
                path = parent + origin.paths[index][1:]
                if path in taken:
                    continue
                taken.add(path)
                symbol = _DECODER.decode(origin.symbols[index])
                placed = msgspec.structs.replace(symbol, path=path, parent=parent)
                yield _Row(path, origin.kinds[index], origin.described[index], _ENCODE(placed), origin.file)


def _extend(rows: list[_Row], readings: list[FileReading], aliases: dict[str, str], paths: dict[str, str]) -> None:
    """Bases that are told of somewhere else than at the type."""
    wanted: dict[str, list[str]] = {}
    for reading in readings:
        for path, base in reading.extends:
            key = key_of(path)
            real = paths.get(aliases.get(key, key), path)
            wanted.setdefault(real, []).append(base)
    for row in rows:
        bases = wanted.pop(row.path, None)
        if bases:
            symbol = _DECODER.decode(row.symbol)
            merged = list(dict.fromkeys([*symbol.bases, *bases]))
            row.symbol = _ENCODE(msgspec.structs.replace(symbol, bases=merged))


def _group(rows: list[_Row], readings: list[FileReading]) -> None:
    """Give the groups of documentation what they hold, and add those that no file describes."""
    known = {row.path for row in rows}
    held = held_by_group(readings, known)
    rows += [_Row(g.path, g.kind, False, _ENCODE(g), g.file) for g in undescribed_groups(readings, known)]
    for row in rows if held else ():
        if members := held.get(row.path):
            row.symbol = _ENCODE(msgspec.structs.replace(_DECODER.decode(row.symbol), holds=members))


def _moved(
    path: str, encoded: bytes, profile: LanguageProfile, aliases: dict[str, str], paths: dict[str, str]
) -> tuple[str, bytes]:
    """A member below its parent's real path, which it was written under another name of.

    A member of another project's type stays with the module that gives it.
    """
    parent = enclosing_of(path)
    key = key_of(parent)
    names = (key, *(f"{module}.{key}" for module in profile.implicit))
    real = next((found for name in names if (found := paths.get(aliases.get(name, name)))), "")
    if real == parent:
        return path, encoded
    symbol = _DECODER.decode(encoded)
    rest = path[len(parent) :] if real else path[len(enclosing_of(parent)) :]
    moved = (real or symbol.module) + (rest if rest.startswith(("::", ".")) else f"::{rest}")
    return moved, _ENCODE(msgspec.structs.replace(symbol, path=moved, parent=real or symbol.module))


def _other_names(readings: list[FileReading], known: set[str]) -> list[Alias]:
    """Names that mean one symbol, or overloads of it, and no other."""
    found: dict[str, set[str]] = {}
    for reading in readings:
        for name, path in reading.names:
            found.setdefault(name, set()).add(path)
    return [
        Alias(name, min(paths)) for name, paths in sorted(found.items())
        if name not in known and len(set(map(key_of, paths))) == 1
    ]  # fmt: skip


def _opened(readings: list[FileReading], rows: list[_Row]) -> list[Alias]:
    """Names that a namespace has because it opens another one of the project (C++20, [namespace.udir])."""
    opened = {pair for r in readings for pair in r.opened}
    if not opened:
        return []
    inside: dict[str, list[str]] = {}
    for row in rows:
        inside.setdefault(key_of(enclosing_of(row.path)), []).append(row.path)
    known = {key_of(row.path) for row in rows}
    found: dict[str, str] = {}
    for namespace, name in sorted(opened):
        for place in (namespace, *_outward(namespace), ""):
            target = f"{place}.{name}" if place else name
            if target in inside and target != namespace:
                for path in inside[target]:
                    key = f"{namespace}.{key_of(path).rpartition('.')[2]}"
                    if key not in known:
                        found.setdefault(key.replace(".", "::"), path)
                break
    return [Alias(name, path) for name, path in found.items()]


def _outward(key: str) -> Iterator[str]:
    while key := key.rpartition(".")[0]:
        yield key


def _spelt(alias: Alias, paths: dict[str, str]) -> Alias:
    """The alias with names in the spelling of its symbol's language."""
    path = paths.get(alias.path, alias.path)
    name = alias.name.replace(".", "::") if "::" in path and "::" not in alias.name else alias.name
    return Alias(name, path, alias.public)


def _missing_modules(readings: list[FileReading], known: set[str]) -> list[_Row]:
    """Symbols for modules that no file declares by itself: packages and namespaces."""
    found: dict[str, _Row] = {}
    for reading in readings:
        for part in reading.parts:
            module = part.scope.module
            separator = _SEPARATORS.get(reading.language, ".")
            nested = separator == "::" or reading.language == "csharp"
            while (
                module
                and module not in known
                and module not in found
                and reading.language not in ("python", "c", "cpp")
            ):
                parent = module.rpartition(separator)[0] if nested else ""
                kind = "namespace" if reading.language in ("cpp", "csharp") else "package"
                symbol = Symbol(
                    path=module, name=module.rpartition(separator)[2] if nested else module, kind=kind,
                    language=reading.language, module=module, parent=parent, file=reading.file, line=1, end_line=1,
                )  # fmt: skip
                found[module] = _Row(module, kind, False, _ENCODE(symbol), reading.file)
                module = parent
    return list(found.values())


def _once(rows: list[_Row]) -> Iterable[bytes]:
    """Of several declarations of one symbol the first with text, headers before bodies; a
    declaration without text takes that of another."""
    start = 0
    for at in range(1, len(rows) + 1):
        if at < len(rows) and rows[at].path == rows[start].path:
            continue
        if at - start == 1 and rows[start].kind != TOLD:
            yield _undeclared(rows[start]) if rows[start].kind == "module" else rows[start].symbol
        elif any(row.kind != TOLD for row in rows[start:at]):
            yield _merged(rows[start:at])
        start = at


def _undeclared(row: _Row) -> bytes:
    """A module of Rust that no other declares is no part of its crate (The Rust Reference, "Modules")."""
    symbol = _DECODER.decode(row.symbol) if row.file.endswith(".rs") else None
    if symbol is None or symbol.line > 1 or not symbol.parent:
        return row.symbol
    return _ENCODE(msgspec.structs.replace(symbol, visibility=max(symbol.visibility, "internal", key=LEVELS.index)))


def _merged(rows: list[_Row]) -> bytes:
    shown, text = _reference_of(rows)
    symbol = _with_others(_DECODER.decode(shown.symbol), [_DECODER.decode(r.symbol) for r in rows if r is not shown])
    if text is None or shown.described:
        return _ENCODE(symbol)
    donor = _DECODER.decode(text.symbol)
    doc = donor.doc
    if doc is not None and doc.deprecated is None and symbol.doc is not None:  # As an attribute beside it says.
        doc = msgspec.structs.replace(doc, deprecated=symbol.doc.deprecated)
    # Lines of text and mentions are the donor's file's, so the place is too.
    return _ENCODE(msgspec.structs.replace(
        symbol, doc=doc, mentions=donor.mentions, file=donor.file, line=donor.line, end_line=donor.end_line
    ))  # fmt: skip


def _reference_of(rows: list[_Row]) -> tuple[_Row, _Row | None]:
    """(the declaration that is shown, the one whose text is)."""
    # A variable called like a module beside it stands for that where it cannot be imported.
    has_module = any(r.kind in ("module", "package") for r in rows)
    shown = min(rows, key=lambda r: (
        r.kind == TOLD, has_module and r.kind == "variable", _is_body(r.file), not r.described, r.file
    ))  # fmt: skip
    if shown.kind == "namespace":  # Many files may tell of a namespace; the fullest text is its reference.
        fullest = max(rows, key=lambda r: len(r.symbol))
        return fullest, fullest
    return shown, next((r for r in rows if r.described), None)


def _with_others(symbol: Symbol, others: list[Symbol]) -> Symbol:
    """A declaration with what the others tell of bases, readers and flags."""
    bases = list(dict.fromkeys([*symbol.bases, *(b for o in others for b in o.bases)]))
    visibility, flags = symbol.visibility, symbol.flags
    if symbol.kind == "module":  # What declares a module tells who sees it; the file itself does not.
        visibility = max((s.visibility for s in (symbol, *others)), key=LEVELS.index)
    if symbol.kind in ("module", "schema"):  # What uses a schema tells whether it is sent or received.
        flags = sorted({f for s in (symbol, *others) for f in s.flags})
    return msgspec.structs.replace(symbol, bases=bases, visibility=visibility, flags=flags)


def _is_body(file: str) -> bool:
    return file.endswith((".c", ".cc", ".cpp", ".cxx"))
