"""The portal's releases as one release sees them."""

from __future__ import annotations

from collections.abc import Collection
from functools import cached_property

from zarbek.core.errors import VersionError
from zarbek.core.linking.index import ReleaseIndex, SymbolEntry
from zarbek.core.linking.name_digest import NameFilter
from zarbek.core.linking.published import PublishedPlace, PublishedTree, bare_address, place_at
from zarbek.core.linking.versions import choose, newest, sort_key, upto
from zarbek.core.model.bundle import Dependency, Manifest
from zarbek.core.model.naming import key_of
from zarbek.service.catalog.actions.projects import plain_name
from zarbek.service.catalog.models import NameClaim, OutsideNamespace, Project, TreeAddress
from zarbek.service.catalog.queries import find_release, list_followed
from zarbek.service.content.queries import find_exact, get_manifest, get_names, load_index


class DatabaseResolutionContext:
    """Answers the linker's questions. Good for one pass: the portal may change afterwards."""

    def __init__(
        self, manifest: Manifest, own: ReleaseIndex | None = None, trial: tuple[str, str, int] | None = None,
        *, is_preview: bool = False,
    ) -> None:  # fmt: skip
        """own: the release that is being linked, which may not be live yet. trial: project, version and id of a
        release that is taken as if it were live. is_preview: whether the manifest is a preview's, which is younger
        than every release of its project, whatever it is called."""
        self.manifest, self.own, self.trial = manifest, own, trial
        self._youngest = (manifest.project, manifest.version) if is_preview else None
        self._indexes: dict[tuple[str, str], ReleaseIndex | None] = {}
        self._versions: dict[str, dict[str, int]] = {}
        self._chosen: dict[str, str] = {}
        self._last_with: dict[tuple[str, str, str], str] = {}

    @cached_property
    def own_aliases(self) -> frozenset[str]:
        """Names of the release's types that stand for others."""
        symbols = self.own.symbols.values() if self.own is not None else ()
        return frozenset(e.name for e in symbols if e.kind == "type")

    @cached_property
    def projects(self) -> dict[str, Project]:
        """Every project by slug, read once."""
        return {project.slug: project for project in Project.objects.all()}

    @cached_property
    def _claims(self) -> dict[str, dict[str, bool]]:
        """``family:namespace``, and the namespace alone, to the projects that say it is theirs, each with
        whether it is."""
        claims: dict[str, dict[str, bool]] = {}
        rows = NameClaim.objects.exclude(name__startswith="pkg:").values_list(
            "name", "project__slug", "held", "is_shared"
        )
        for entry, slug, held, is_shared in rows:
            for name in (entry, plain_name(entry)):
                known = claims.setdefault(name, {})
                known[slug] = known.get(slug, False) or is_shared or held is not None
        return claims

    @cached_property
    def _declared(self) -> set[str]:
        """Projects that the release depends on."""
        purls = {d.purl for d in self.manifest.dependencies}
        return {p.slug for p in self.projects.values() if p.purl in purls}

    def _claimants(self, namespace: str, family: str) -> dict[str, bool]:
        return self._claims.get(f"{family}:{namespace}" if family else namespace, {})

    def owners_of(self, namespace: str, family: str = "") -> list[str]:
        """Whose a namespace is, and of those that only say so the ones that the release depends on."""
        claimants = self._claimants(namespace, family)
        return sorted(slug for slug, is_held in claimants.items() if is_held or slug in self._declared)

    def is_contested(self, namespace: str, family: str = "") -> bool:
        """Whether more than one project claims a namespace, and nobody has decided."""
        return len(self._claimants(namespace, family)) > 1

    def owner_of(self, namespace: str, family: str = "") -> str | None:
        """Of several owners the one that the release depends on."""
        owners = self.owners_of(namespace, family)
        if len(owners) > 1:
            owners = [o for o in owners if o in self._declared]
        return owners[0] if len(owners) == 1 else None

    def has_project(self, project: str) -> bool:
        """Whether there is a project of a slug."""
        return project in self.projects

    def versions(self, project: str) -> dict[str, int]:
        """Version to release id of all live releases but previews; 0 for the one that is being linked."""
        if project not in self._versions:
            found = list_followed(self.projects[project]) if project in self.projects else []
            self._versions[project] = {r.version: r.pk for r in found if not r.hold}
            if self.own is not None and project == self.own.project:
                self._versions[project][self.own.version] = 0
            if self.trial is not None and project == self.trial[0]:
                self._versions[project].setdefault(self.trial[1], self.trial[2])
        return self._versions[project]

    def ecosystem_of(self, project: str) -> str:
        """By whose rules a project's versions are ordered; empty for one that is not known."""
        return self.projects[project].ecosystem if project in self.projects else ""

    def choice_of(self, project: str) -> str:
        """The version of a project that the release's mentions mean; empty for none."""
        if self.own is not None and project == self.own.project:
            return self.own.version
        if project not in self._chosen:
            known = self.projects.get(project)
            self._chosen[project] = choose_version(self.manifest, known, self.versions(project)) if known else ""
        return self._chosen[project]

    def index_of(self, project: str) -> ReleaseIndex | None:
        """The index of the release of a project that is meant; None where there is none."""
        if self.own is not None and project == self.own.project:
            return self.own
        version = self.choice_of(project)
        return self._load(project, version) if version else None

    def find(self, project: str, version: str) -> ReleaseIndex | None:
        """The index of a release by version, alias or range; empty for the one that is meant."""
        if project not in self.projects:
            return None
        if not version or (self.own is not None and (project, version) == (self.own.project, self.own.version)):
            return self.index_of(project)
        if version in self.versions(project):
            return self._load(project, version)
        release = find_release(self.projects[project], version)
        return load_index(release.pk) if release is not None else None

    def newest_of(self, project: str) -> ReleaseIndex | None:
        """The index of a project's newest release; None for none."""
        return self._load(project, newest(self.versions(project), self.ecosystem_of(project)))

    def history(self, project: str, version: str = "") -> list[str]:
        """Versions up to one, by default the one that counts, oldest first."""
        version = version or self.choice_of(project)
        known, ecosystem = self.versions(project), self.ecosystem_of(project)
        if (project, version) != self._youngest:
            return upto(known, version, ecosystem)
        others = [v for v in known if v != version]
        return [*upto(others, newest(others, ecosystem), ecosystem), version]

    def is_before(self, project: str, then: str, now: str) -> bool:
        """Whether a version of a project is older than another."""
        if (project, now) == self._youngest:
            return then != now
        ecosystem = self.ecosystem_of(project)
        return sort_key(then, ecosystem) < sort_key(now, ecosystem)

    def last_with(self, project: str, name: str, version: str = "") -> str:
        """The last version, up to one, that has a name; empty for none."""
        key = (project, name, version)
        if key not in self._last_with:
            versions = reversed(self.history(project, version))
            self._last_with[key] = next((v for v in versions if self._has(project, v, name)), "")
        return self._last_with[key]

    def predecessor(self, project: str, version: str) -> ReleaseIndex | None:
        """The index of the release before a version; None for the first."""
        earlier = [v for v in self.history(project, version) if v != version]
        return self._load(project, earlier[-1]) if earlier else None

    def _has(self, project: str, version: str, name: str) -> bool:
        """Few releases are read for one that are asked: most have not a name that is gone."""
        names = self._names_of(project, version)
        if names is not None and not names.may_have(name):
            return False
        index = self._load(project, version)
        return index is not None and index.has_name(name)

    def _names_of(self, project: str, version: str) -> NameFilter | None:
        """None where the index is asked, which is there already or has to be read."""
        release_id = self.versions(project).get(version)
        return get_names(release_id) if release_id and (project, version) not in self._indexes else None

    def _symbol(self, project: str, version: str, path: str) -> SymbolEntry | None:
        """A symbol of a release by its very path, by reading what is around it and no more."""
        names = self._names_of(project, version)
        if names is None:
            index = self._load(project, version)
            return index.symbols.get(path) if index is not None else None
        entry = find_exact(self.versions(project)[version], path) if names.may_be_path(path) else None
        return entry.symbol if entry is not None else None

    def gone_since(self, project: str, name: str, version: str = "") -> str:
        """The release after the last one that had a name; empty if none ever had, or all do."""
        last = self.last_with(project, name, version)
        ordered = self.history(project, version)
        after = ordered[ordered.index(last) + 1 :] if last else []
        return after[0] if after else ""

    def deprecated_in(self, project: str, path: str, version: str = "") -> str:
        """The first release in which a symbol is deprecated, or empty."""
        for known in self.history(project, version):
            entry = self._symbol(project, known, path)
            if entry is not None and entry.deprecated is not None:
                return known
        return ""

    def moved_in(self, project: str, version: str, name: str) -> str:
        """The first release after the last in which the name was a symbol's own path, or empty."""
        ordered = self.history(project, version)
        for at in range(len(ordered) - 1, -1, -1):
            if self._symbol(project, ordered[at], name) is not None:
                return ordered[at + 1] if at + 1 < len(ordered) else ""
        return ""

    def before(self, project: str, name: str, version: str = "") -> ReleaseIndex | None:
        """The index of the last release, up to a version, that has a name; None for none."""
        last = self.last_with(project, name, version)
        return self._load(project, last) if last else None

    @cached_property
    def _outside(self) -> dict[str, str]:
        return dict(OutsideNamespace.objects.values_list("name", "pattern"))

    @cached_property
    def _trees(self) -> dict[str, PublishedTree]:
        """Address to the newest release that has a tree there."""
        rows = TreeAddress.objects.filter(release__is_live=True, release__is_preview=False)
        columns = ("address", "release__project__slug", "release__version", "folder")
        found = {a: PublishedTree(*tree) for a, *tree in rows.order_by("release__published_at").values_list(*columns)}
        manifests = [(self.manifest.project, self.manifest.version, self.manifest)]
        if self.trial is not None:
            manifests.append((self.trial[0], self.trial[1], get_manifest(self.trial[2])))
        for project, version, manifest in manifests:
            trees = ((bare_address(tree.address), tree.folder) for tree in manifest.trees)
            found |= {a: PublishedTree(project, version, folder) for a, folder in trees if a}
        return found

    def published_at(self, address: str) -> PublishedPlace | None:
        """What an address means, where a tree of the portal is published there."""
        return place_at(address, self._trees) if self._trees else None

    def outside_address(self, name: str) -> str:
        """Where readers are sent for a name that nobody here owns; empty for nowhere."""
        head = key_of(name)
        while head and self._outside:
            if head in self._outside:
                return self._outside[head].replace("{name}", name)
            head = head.rpartition(".")[0]
        return ""

    def _load(self, project: str, version: str) -> ReleaseIndex | None:
        key = (project, version)
        if key not in self._indexes:
            if self.own is not None and key == (self.own.project, self.own.version):
                return self.own
            release_id = self.versions(project).get(version)
            self._indexes[key] = load_index(release_id) if release_id else None
        return self._indexes[key]


def choose_version(manifest: Manifest, project: Project, versions: Collection[str]) -> str:
    """The version of a project that a release with this manifest means; empty where there is none.

    A range that cannot be read, or that no release fits, means the newest.
    """
    wanted = dependency_on(manifest, project)
    return (fitting_version(wanted, versions) if wanted is not None else "") or newest(versions, project.ecosystem)


def dependency_on(manifest: Manifest, project: Project) -> Dependency | None:
    """What a manifest says of depending on a project; None for nothing."""
    return next((d for d in manifest.dependencies if project.purl and d.purl == project.purl), None)


def fitting_version(wanted: Dependency, versions: Collection[str]) -> str:
    """The version that a dependency means; empty where its range fits none, or cannot be read."""
    ecosystem = wanted.purl.removeprefix("pkg:").partition("/")[0]
    try:
        return choose(versions, wanted.range, wanted.exact, ecosystem)
    except VersionError:
        return ""
