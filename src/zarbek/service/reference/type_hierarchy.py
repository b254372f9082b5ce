"""Who a type has members from, as far as one page asks."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass

from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.inheritance import Heir
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import find_release
from zarbek.service.content.queries import find_exact, find_unit_of, get_contents, get_module_block
from zarbek.service.links.documents import LinkMap
from zarbek.service.links.queries import get_inheritance, get_link_map

#: A chain of bases ends here, whatever bundles say.
_MAX_LINE = 200


@dataclass(frozen=True, slots=True)
class Relative:
    """A type, or a member of one, in the release that has it."""

    release: Release
    entry: SymbolEntry


class Family:
    """Bases and heirs of types, followed through releases. Cost: what the blocks they stand in cost to read,
    each once."""

    def __init__(self, release: Release) -> None:
        self.release = release
        self._maps: dict[int, LinkMap] = {}
        self._releases: dict[tuple[str, str], Release | None] = {}
        self._bases: dict[tuple[int, str], list[Relative]] = {}
        self._members: dict[tuple[int, str], dict[str, list[SymbolEntry]]] = {}

    def bases_of(self, of: Relative) -> list[Relative]:
        """What a type inherits from, as far as the portal has it."""
        key = (of.release.pk, of.entry.path)
        if key not in self._bases:
            self._bases[key] = list(self._read_bases(of))
        return self._bases[key]

    def _read_bases(self, of: Relative) -> Iterator[Relative]:
        for base in get_inheritance(of.release, self._map_of(of.release), of.entry.path).bases:
            release = self._release_of(base.project, base.version, of.release) if base.project else of.release
            found = find_exact(release.pk, base.path) if release is not None else None
            if release is not None and found is not None:
                yield Relative(release, found.symbol)

    def line_of(self, of: Relative) -> list[Relative]:
        """All that a type has members from, in the order in which they are asked for one."""
        line: dict[tuple[int, str], Relative] = {}
        pending = self.bases_of(of)[::-1]
        while pending and len(line) < _MAX_LINE:
            base = pending.pop()
            key = (base.release.pk, base.entry.path)
            if key not in line:
                line[key] = base
                pending += self.bases_of(base)[::-1]
        return list(line.values())

    def heirs_of(self, path: str) -> list[Heir]:
        """Types of the page's release that name one of its types as a base."""
        return get_inheritance(self.release, self._map_of(self.release), path).heirs

    def members_of(self, of: Relative) -> dict[str, list[SymbolEntry]]:
        """Name to the members of a type that heirs have from it, in source order."""
        key = (of.release.pk, of.entry.path)
        if key not in self._members:
            found: dict[str, list[SymbolEntry]] = {}
            declared = _declared(of)
            for member in declared.get(of.entry.path, ()):
                if member.kind != "constructor":
                    found.setdefault(member.name, []).append(member)
                # The values of an enumeration without a scope belong to what encloses it (C++20, [dcl.enum]).
                for value in declared.get(member.path, ()) if "unscoped" in member.flags else ():
                    found.setdefault(value.name, []).append(value)
            self._members[key] = found
        return self._members[key]

    def members_above(self, of: Relative, name: str) -> Iterator[Relative]:
        """Members of one name of all bases, nearest base first."""
        for base in self.line_of(of):
            yield from (Relative(base.release, member) for member in self.members_of(base).get(name, ()))

    def _map_of(self, release: Release) -> LinkMap:
        if release.pk not in self._maps:
            self._maps[release.pk] = get_link_map(release)
        return self._maps[release.pk]

    def _release_of(self, slug: str, version: str, seen_from: Release) -> Release | None:
        key = (slug, version or seen_from.choices.get(slug, ""))
        if key not in self._releases:
            project = Project.objects.filter(slug=slug).first()
            self._releases[key] = find_release(project, key[1]) if project is not None and key[1] else None
        return self._releases[key]


def _declared(of: Relative) -> dict[str, list[SymbolEntry]]:
    """What stands in the block of a type by what encloses it, in source order."""
    contents = get_contents(of.release.pk)
    block = contents.block_of(find_unit_of(contents, of.entry.path))
    found: dict[str, list[SymbolEntry]] = defaultdict(list)
    for entry in get_module_block(block).entries if block else []:
        found[entry.symbol.parent].append(entry.symbol)
    for entries in found.values():
        entries.sort(key=lambda e: (e.file, e.line, e.path))
    return found
