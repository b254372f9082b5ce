"""What a name can lead to, and which of several symbols of one name its author asked for."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, NamedTuple, Protocol

from zarbek.core.linking.index import MODULE_KINDS, ReleaseIndex, SymbolEntry
from zarbek.core.model.example import CALLED
from zarbek.core.model.naming import key_of, parameter_types

Outcome = Literal["linked", "outside", "dangling", "ambiguous", "hidden"]
MAX_DEPTH = 30
_NAME = re.compile(r"[A-Za-z_][\w.]*")
TYPE_KINDS = frozenset(
    "class enum exception type interface record struct union trait annotation object delegate primitive concept "
    "message input scalar service".split()
)
SCOPE_KINDS = TYPE_KINDS | MODULE_KINDS
CALLABLE = frozenset({"function", "method", "constructor", "operator", "macro"})
VALUES = frozenset({"attribute", "property", "constant", "variable", "field", "member", "event"})
_ROLE_KINDS = {
    "class": TYPE_KINDS,
    "type": SCOPE_KINDS,
    "function": CALLABLE | TYPE_KINDS | {"variable", "field"},
    "call": CALLABLE | TYPE_KINDS,
    CALLED: CALLABLE | TYPE_KINDS,
    "method": CALLABLE | {"property", "attribute", "variable"},
    "attribute": VALUES | {"method"},
    "module": MODULE_KINDS,
    "data": VALUES | {"type"},
    "macro": frozenset({"macro"}),
    "member": CALLABLE | VALUES | TYPE_KINDS,
    "primitive": frozenset({"primitive"}),
    "value": CALLABLE | VALUES | {"struct"},
}
_EXACT_KINDS = {
    "function": frozenset({"function", "variable"}),
    "call": CALLABLE,
    "method": frozenset({"method", "constructor", "operator"}),
    "attribute": frozenset({"attribute", "property", "field"}),
}


class Releases(Protocol):
    """The other releases that a name may lead to."""

    def owner_of(self, namespace: str, family: str = "") -> str | None:
        """The slug of the one project that owns a namespace in a family of languages, or None."""

    def is_contested(self, namespace: str, family: str = "") -> bool:
        """Whether several projects say that a namespace is theirs."""

    def index_of(self, project: str) -> ReleaseIndex | None:
        """The release of a project that the linked release depends on, or None."""


class Wanted(NamedTuple):
    """A name as the resolver looks for it. params: simple types of a parameter list, or None. besides:
    the path of the element that a list of related names stands at, which it never means."""

    key: str
    role: str = ""
    params: tuple[str, ...] | None = None
    besides: str = ""


@dataclass(frozen=True, slots=True)
class Target:
    """Where a name leads. via: the qualified name by which it was found."""

    index: ReleaseIndex
    entry: SymbolEntry
    via: str


@dataclass(frozen=True, slots=True)
class Missing:
    """Why a name leads nowhere. project: whose namespace it falls into, or empty for nobody's.

    name: the qualified name that was looked for. open: a base, an import or the language, outside the
    portal, may have it.
    """

    project: str
    name: str
    open: bool = False
    candidates: tuple[str, ...] = ()


def container(found: Target) -> SymbolEntry:
    """Of the symbols of one name, the one that can have members."""
    if found.entry.kind in SCOPE_KINDS:
        return found.entry
    same = found.index.named(key_of(found.entry.path))
    return next((e for e in same if e.kind in SCOPE_KINDS), found.entry)


@lru_cache(maxsize=2**14)
def beginnings(key: str) -> tuple[str, ...]:
    """The key and what encloses it, longest first; slashes separate too (Go, packages of npm)."""
    found: list[str] = []
    while key:
        found.append(key)
        key = key[: max(key.rfind("."), key.rfind("/"), 0)]
    return tuple(found)


def by_parameters(candidates: list[Target], params: tuple[str, ...]) -> Target | None:
    """The overload with these parameter types: all of them, else as many and most alike."""
    listed = [(t, parameter_types(t.entry.path)) for t in candidates]
    for target, types in listed:
        if types == params:
            return target
    loose = tuple(p.lower() for p in params)
    best: tuple[int, Target] | None = None
    for target, types in listed:
        if types is None:
            return target if not params else best[1] if best else target
        if len(types) != len(params):
            continue
        equal = sum(_is_like(a, b) for a, b in zip(types, loose, strict=True))
        if equal == len(params) and (best is None or equal > best[0]):
            best = (equal, target)
    return best[1] if best else None


def _is_like(declared: str, written: str) -> bool:
    """Whether a written type may be the declared one: a type variable is written as its bound."""
    is_variable = declared.rstrip("[].").isupper() if len(declared) > 1 else True
    return declared.lower() == written or (is_variable and declared.count("[") == written.count("["))


def base_name(base: str) -> str:
    """A base without type arguments and calls: ``Map<K, V>.Entry<K>`` is ``Map.Entry``."""
    shorter = ""
    while "<" in base and shorter != base:
        shorter, base = base, re.sub(r"<[^<>]*>", "", base)
    return base.partition("[")[0].partition("(")[0].strip()


@lru_cache(maxsize=2**14)
def clean_name(name: str) -> str:
    """The key of a name as written: without call parentheses, title mark, kind and blanks."""
    name = name.strip().removeprefix("~")
    head, paren, _ = name.partition("(")
    if "operator" in head:
        return key_of(name).strip()
    head = (head if paren else name).replace(" ", "").replace("\n", "")
    if "<" in head:
        head = base_name(head)
    return key_of(head)


def fits(entry: SymbolEntry, role: str) -> bool:
    """Whether a symbol is of the kind that the author asked for."""
    kinds = _ROLE_KINDS.get(role)
    return kinds is None or entry.kind in kinds


def fits_exactly(entry: SymbolEntry, role: str) -> bool:
    """Whether a symbol is of the very kind asked for, where a wider one would do too."""
    kinds = _EXACT_KINDS.get(role)
    return kinds is None or entry.kind in kinds


def shared_parts(left: str, right: str) -> int:
    """How many parts two dotted names begin with alike."""
    count = 0
    for a, b in zip(left.split("."), right.split("."), strict=False):
        if a != b:
            break
        count += 1
    return count
