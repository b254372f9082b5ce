"""Whether a text tells of a parameter or option that nothing takes: only the whole project can say it."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence

import msgspec

from zarbek.core.findings.documented_options import types_in
from zarbek.core.findings.text_rules import ConditionalFinding
from zarbek.core.gathering.file_reading import FileReading
from zarbek.core.model.finding import Finding
from zarbek.core.model.naming import CONSTRUCTORS
from zarbek.core.model.symbol import Symbol

_DECODER = msgspec.json.Decoder(Symbol)
_OF_ITS_OBJECT = ("self.", "cls.", "super().")
_ECMASCRIPT = ("typescript", "javascript")
_TYPES = ("interface", "class", "type")
_PLAIN = re.compile(r"[\w$]+")
_MOST_BASES = 20


def list_decided(readings: Sequence[FileReading], targets: Mapping[str, str]) -> Iterator[Finding]:
    """The doubted findings of readings that hold. Where what could have the name is none of the project's, or may
    have any, nothing is said.

    targets: another name of a symbol to the path where it is defined. Cost: only where something is in doubt.
    """
    doubts = [doubt for reading in readings for doubt in reading.doubted]
    if not doubts:
        return
    callables, types = _Callables(readings, targets), _Types(readings)
    for doubt in doubts:
        known = _known_to(doubt, callables, types)
        if known is not None and doubt.name not in known:
            yield doubt.finding


def _known_to(doubt: ConditionalFinding, callables: _Callables, types: _Types) -> frozenset[str] | None:
    if doubt.function:
        return callables.taken_by(doubt.function)
    members = [types.members_of(name) for name in doubt.types]
    return None if None in members else frozenset().union(*filter(None, members))


class _Types:
    """Members of the project's types of scripts, by last name; those that share theirs are not told apart."""

    def __init__(self, readings: Sequence[FileReading]) -> None:
        self.lines: dict[str, list[bytes]] = defaultdict(list)
        self.inside: dict[str, set[str]] = defaultdict(set)
        for reading in readings:
            if reading.language in _ECMASCRIPT:
                for path, kind, line in zip(reading.paths, reading.kinds, reading.symbols, strict=True):
                    owner, _, name = path.rpartition(".")
                    self.inside[owner].add(name)
                    if kind in _TYPES:
                        self.lines[name].append(line)

    def members_of(self, name: str, depth: int = 0) -> frozenset[str] | None:
        """Names of all members, of bases too; None where it may have others."""
        lines = self.lines.get(name.rpartition(".")[2], [])
        if len(lines) != 1 or depth > _MOST_BASES:
            return None
        symbol = _DECODER.decode(lines[0])
        found = set(self.inside.get(symbol.path, ()))
        if (not found and not symbol.bases) or any(not _PLAIN.fullmatch(member) for member in found):
            return None
        for base in symbol.bases:
            for further in types_in(base) or [""]:
                members = self.members_of(further, depth + 1)
                if members is None:
                    return None
                found |= members
        return frozenset(found)


class _Callables:
    """What the project's functions take, by the paths where they are defined."""

    def __init__(self, readings: Sequence[FileReading], targets: Mapping[str, str]) -> None:
        self.targets = targets
        self.keywords = {path: k for r in readings for path, k in r.keywords.items()}
        self.lines: dict[str, bytes] = {}
        self.kinds: dict[str, str] = {}
        self.by_name: dict[str, list[str]] = defaultdict(list)
        for reading in readings:
            if reading.language == "python":
                self.lines.update(zip(reading.paths, reading.symbols, strict=True))
                self.kinds.update(zip(reading.paths, reading.kinds, strict=True))
                for path in reading.paths:
                    self.by_name[path.rpartition(".")[2]].append(path)
        self.imports = {p.scope.module: p.scope.imports for r in readings for p in r.parts}
        self._known: dict[str, frozenset[str] | None] = {}

    def taken_by(self, path: str) -> frozenset[str] | None:
        """Names of all keywords that a function takes, itself or through others; None where that is not known."""
        if path not in self._known:
            self._known[path] = frozenset()  # A circle of calls ends here.
            self._known[path] = self._taken_by(path)
        return self._known[path]

    def _taken_by(self, path: str) -> frozenset[str] | None:
        symbol = _DECODER.decode(self.lines[path])
        if symbol.decorators or not symbol.signatures:
            return None
        parameters = [p for signature in symbol.signatures for p in signature.parameters]
        names = {p.name for p in parameters}
        if not any(p.kind == "keywords" for p in parameters):
            return frozenset(names)
        keywords = self.keywords.get(path)
        if keywords is None:
            return None
        names.update(keywords.taken)
        for callee in keywords.passed:
            handed = list(self._called(callee, symbol))
            for further in map(self.taken_by, handed):
                if further is None:
                    return None
                names |= further
            if not handed:
                return None
        return frozenset(names)

    def _called(self, callee: str, caller: Symbol) -> Iterator[str]:
        """Paths of the functions that a call may mean; none where it leads out of the project."""
        if callee.startswith(_OF_ITS_OBJECT):
            name = callee.rpartition(".")[2]
            if callee.count(".") == 1:  # Of its class, or of any heir of that.
                yield from (p for p in self.by_name.get(name, ()) if self._is_callable(p))
            return
        head, dot, rest = callee.partition(".")
        module = caller.module
        imports = {**self.imports.get(module, {}), **self.keywords[caller.path].imports}
        found = self._path_of(imports.get(head, f"{module}.{head}") + dot + rest)
        if found and self._is_callable(found):
            yield found
        elif found:
            constructors = (f"{found}.{name}" for name in CONSTRUCTORS)
            yield next((c for c in constructors if c in self.lines), found)

    def _is_callable(self, path: str) -> bool:
        return self.kinds[path] in ("function", "method")

    def _path_of(self, name: str) -> str:
        """Where a qualified name is defined, through other names of what encloses it, or empty."""
        head, tail = name, ""
        while head:
            path = self.targets.get(head, head) + tail
            if path in self.lines:
                return path
            head, dot, last = head.rpartition(".")
            tail = dot + last + tail
        return ""
