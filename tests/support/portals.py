"""A portal in memory, for tests of linking."""

from __future__ import annotations

from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.language_profile import family_of
from zarbek.core.linking.published import PublishedPlace, PublishedTree, bare_address, place_at
from zarbek.core.linking.versions import choose, newest, sort_key


class MemoryPortal:
    def __init__(self, *indexes: ReleaseIndex, ranges: dict[str, str] | None = None) -> None:
        self.indexes = {(i.project, i.version): i for i in indexes}
        self.ranges = ranges or {}
        self.outside: dict[str, str] = {}

    def _versions(self, project: str) -> list[str]:
        return [version for slug, version in self.indexes if slug == project]

    def owner_of(self, namespace: str, family: str = "") -> str | None:
        owners = self.owners_of(namespace, family)
        return owners[0] if len(owners) == 1 else None

    def owners_of(self, namespace: str, family: str = "") -> list[str]:
        owners = {
            slug for (slug, _), i in self.indexes.items() if namespace in i.manifest.namespaces
            and (not family or family in {family_of(language) for language in i.manifest.languages or ["python"]})
        }  # fmt: skip
        return sorted(owners)

    def is_contested(self, namespace: str, family: str = "") -> bool:
        return len(self.owners_of(namespace, family)) > 1

    def index_of(self, project: str) -> ReleaseIndex | None:
        return self.indexes.get((project, choose(self._versions(project), self.ranges.get(project, ""))))

    def find(self, project: str, version: str) -> ReleaseIndex | None:
        if not version:
            return self.index_of(project)
        return self.indexes.get((project, choose(self._versions(project), version)))

    def has_project(self, project: str) -> bool:
        return bool(self._versions(project))

    def newest_of(self, project: str) -> ReleaseIndex | None:
        return self.indexes.get((project, newest(self._versions(project))))

    def last_with(self, project: str, name: str) -> str:
        for version in sorted(self._versions(project), key=sort_key, reverse=True):
            if self.indexes[project, version].has_name(name):
                return version
        return ""

    def predecessor(self, project: str, version: str) -> ReleaseIndex | None:
        earlier = [v for v in sorted(self._versions(project), key=sort_key) if sort_key(v) < sort_key(version)]
        return self.indexes[project, earlier[-1]] if earlier else None

    def moved_in(self, project: str, version: str, name: str) -> str:
        known = [i for v in sorted(self._versions(project), key=sort_key)
                 if sort_key(v) <= sort_key(version) and (i := self.indexes[project, v])]  # fmt: skip
        had = [name in i.symbols for i in known]
        return known[had.index(True) + had[had.index(True) :].index(False)].version if True in had else ""

    def published_at(self, address: str) -> PublishedPlace | None:
        trees = {
            bare_address(tree.address): PublishedTree(i.project, i.version, tree.folder)
            for i in sorted(self.indexes.values(), key=lambda i: sort_key(i.version)) for tree in i.manifest.trees
        }  # fmt: skip
        return place_at(address, trees)

    def outside_address(self, name: str) -> str:
        return next((p.replace("{name}", name) for ns, p in self.outside.items() if name.startswith(ns)), "")
