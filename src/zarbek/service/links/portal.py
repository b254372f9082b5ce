"""The portal's releases as one release sees them."""

from __future__ import annotations

from functools import cached_property

from zarbek.core.errors import VersionError
from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.versions import choose, newest, sort_key
from zarbek.core.model.bundle import Manifest
from zarbek.core.model.naming import key_of
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.queries import find_release, list_releases
from zarbek.service.reference.queries import load_index


class DatabasePortal:
    """Answers the linker's questions. Good for one pass: the portal may change afterwards."""

    def __init__(self, manifest: Manifest, own: ReleaseIndex | None = None) -> None:
        """own: the release that is being linked, which may not be live yet."""
        self.manifest, self.own = manifest, own
        self._indexes: dict[tuple[str, str], ReleaseIndex | None] = {}
        self._versions: dict[str, dict[str, int]] = {}
        self._last_with: dict[tuple[str, str], str] = {}
        #: What each project's mentions turned out to mean.
        self.choices: dict[str, str] = {}

    @cached_property
    def _projects(self) -> dict[str, Project]:
        return {project.slug: project for project in Project.objects.all()}

    @cached_property
    def _owners(self) -> dict[str, str]:
        owners: dict[str, list[str]] = {}
        for project in self._projects.values():
            for entry in project.namespaces:  # "family:namespace"
                for name in (entry, entry.partition(":")[2]):
                    owners.setdefault(name, []).append(project.slug)
        return {name: slugs[0] for name, slugs in owners.items() if len(set(slugs)) == 1}

    def owner_of(self, namespace: str, family: str = "") -> str | None:
        return self._owners.get(f"{family}:{namespace}" if family else namespace)

    def has_project(self, project: str) -> bool:
        return project in self._projects

    def versions(self, project: str) -> dict[str, int]:
        """Version to release id of all live releases but previews."""
        if project not in self._versions:
            found = list_releases(self._projects[project], previews=False) if project in self._projects else []
            self._versions[project] = {r.version: r.pk for r in found}
            if self.own is not None and project == self.own.project:
                self._versions[project].setdefault(self.own.version, 0)
        return self._versions[project]

    def index_of(self, project: str) -> ReleaseIndex | None:
        if self.own is not None and project == self.own.project:
            return self.own
        known = self._projects.get(project)
        if known is None:
            return None
        wanted = next((d for d in self.manifest.dependencies if known.purl and d.purl == known.purl), None)
        versions = self.versions(project)
        try:
            ecosystem = wanted.purl.removeprefix("pkg:").partition("/")[0] if wanted else ""
            version = choose(versions, wanted.range, wanted.exact, ecosystem) if wanted else newest(versions)
        except VersionError:
            version = newest(versions)
        index = self._load(project, version or newest(versions))
        if index is not None:
            self.choices[project] = index.version
        return index

    def find(self, project: str, version: str) -> ReleaseIndex | None:
        if project not in self._projects:
            return None
        if not version or (self.own is not None and (project, version) == (self.own.project, self.own.version)):
            return self.index_of(project)
        release = find_release(self._projects[project], version)
        return load_index(release.pk) if release is not None else None

    def newest_of(self, project: str) -> ReleaseIndex | None:
        return self._load(project, newest(self.versions(project)))

    def last_with(self, project: str, name: str) -> str:
        key = (project, name)
        if key not in self._last_with:
            self._last_with[key] = ""
            for version in self._ordered(project, newest_first=True):
                index = self._load(project, version)
                if index is not None and _has(index, name):
                    self._last_with[key] = version
                    break
        return self._last_with[key]

    def gone_since(self, project: str, name: str) -> str:
        """The release after the last one that had a name; empty if none ever had, or all do."""
        last = self.last_with(project, name)
        ordered = self._ordered(project)
        after = ordered[ordered.index(last) + 1 :] if last else []
        return after[0] if after else ""

    def deprecated_in(self, project: str, path: str) -> str:
        """The first release in which a symbol is deprecated, or empty."""
        for version in self._ordered(project):
            index = self._load(project, version)
            entry = index.symbols.get(path) if index else None
            if entry is not None and entry.deprecated is not None:
                return version
        return ""

    def before(self, project: str, name: str) -> ReleaseIndex | None:
        last = self.last_with(project, name)
        return self._load(project, last) if last else None

    def _ordered(self, project: str, *, newest_first: bool = False) -> list[str]:
        return sorted(self.versions(project), key=sort_key, reverse=newest_first)

    def _load(self, project: str, version: str) -> ReleaseIndex | None:
        key = (project, version)
        if key not in self._indexes:
            if self.own is not None and key == (self.own.project, self.own.version):
                return self.own
            release_id = self.versions(project).get(version)
            self._indexes[key] = load_index(release_id) if release_id else None
        return self._indexes[key]


def _has(index: ReleaseIndex, name: str) -> bool:
    if name in index.symbols or name in index.aliases or name in index.pages:
        return True
    key = key_of(name)
    if index.named(key) or key in index.aliases:
        return True
    head, _, last = key.rpartition(".")
    return head in index.aliases and bool(index.named(f"{key_of(index.aliases[head])}.{last}"))
