"""The types of a release with those they have members from, and those that have members from them."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable

import msgspec

from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.language_profile import profile_of
from zarbek.core.linking.linker import Linker
from zarbek.core.linking.targets import TYPE_KINDS


class Base(msgspec.Struct, frozen=True, array_like=True):
    """A type that another names as its base. project and version are empty for a type of the same release."""

    path: str
    project: str = ""
    version: str = ""


class Heir(msgspec.Struct, frozen=True, array_like=True):
    """A type that inherits from another."""

    path: str
    name: str
    kind: str


class Inheritance(msgspec.Struct, frozen=True, array_like=True, omit_defaults=True):
    """bases: in the order of the declaration, as far as the portal has them. heirs: types of the same release
    that name this one as a base and that readers see, by path; not those that have it by their language alone."""

    bases: list[Base] = []
    heirs: list[Heir] = []


def bases_of(linker: Linker, path: str) -> list[Base]:
    """The direct bases of a type of the linker's release."""
    own = linker.own
    found, _ = linker.resolver_for(path).bases_of(own, own.symbols[path])
    return [
        Base(t.entry.path) if t.index is own else Base(t.entry.path, t.index.project, t.index.version) for t in found
    ]


def inheritance_of_all(linker: Linker, is_shown: Callable[[SymbolEntry], bool]) -> dict[str, Inheritance]:
    """Path of each type that has any to its bases and heirs. Cost: a resolution of each base that is written."""
    bases: dict[str, list[Base]] = {}
    heirs: dict[str, list[Heir]] = defaultdict(list)
    for path, entry in sorted(linker.own.symbols.items()):
        if entry.kind not in TYPE_KINDS:
            continue
        bases[path] = bases_of(linker, path)
        implied = profile_of(entry.language).implied_bases.get(entry.kind)
        for base in bases[path] if is_shown(entry) else ():
            if not base.project and base.path != implied:
                heirs[base.path].append(Heir(path, entry.name, entry.kind))
    linker.trace.clear()
    related = sorted({path for path, found in bases.items() if found} | heirs.keys())
    return {path: Inheritance(bases.get(path, []), heirs.get(path, [])) for path in related}
