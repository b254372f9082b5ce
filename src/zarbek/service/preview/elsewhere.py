"""What a working tree refers to in a portal: projects of which the preview brings the names, and of their texts only
those that have changed since somebody wrote of them. Of the tree's own project it brings the same."""

from __future__ import annotations

import logging
import time
from collections.abc import Iterator

import msgspec

from zarbek.client import Portal
from zarbek.client.errors import PortalError
from zarbek.client.values import Project as ListedProject
from zarbek.core.linking.dependency_trace import NOBODY
from zarbek.core.linking.versions import newest, upto
from zarbek.core.model.bundle import Manifest
from zarbek.core.model.naming import lies_in
from zarbek.service.catalog.elsewhere import note_elsewhere
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.batches import batched
from zarbek.service.content.link_index import MOST_ELEMENTS, Elements, LinkIndex
from zarbek.service.content.queries import get_manifest
from zarbek.service.links.changed_elsewhere import list_asked
from zarbek.service.links.models import Dependence
from zarbek.service.links.resolution_context import choose_version
from zarbek.service.preview.actions import keep_elements, keep_followed, keep_names

logger = logging.getLogger(__name__)
#: Releases before the one that is meant, by which it is told since when a name is gone or deprecated.
_BEFORE = 4
#: A portal that did not answer is asked again after so long.
_PAUSE_S = 60.0
_DECODE = msgspec.json.Decoder(LinkIndex).decode
_DECODE_ELEMENTS = msgspec.json.Decoder(Elements).decode


class Elsewhere:
    """A portal, and what of it a preview has."""

    def __init__(self, portal: Portal) -> None:
        self._portal = portal
        self._owners: dict[str, set[str]] = {}
        self._asked: set[str] = set()
        self._has_history = False
        self._not_before = 0.0

    def bring(self, slug: str) -> bool:
        """Get what the newest texts of a tree, by its project, ask for and is not there yet; whether anything came.
        A portal that does not answer is told of, and asked later."""
        came = False
        if time.monotonic() < self._not_before:
            return came
        try:
            for is_new in self._bring_all(slug):
                came |= is_new
        except (PortalError, msgspec.MsgspecError) as error:
            logger.warning("Names of other projects are not to be had: %s", error)
            self._not_before = time.monotonic() + _PAUSE_S
        return came

    def _bring_all(self, slug: str) -> Iterator[bool]:
        """Of each thing that is looked for, whether it came."""
        wanted = set(_asked_by(slug)) - self._asked
        if wanted or not self._has_history:
            owners = self._owners = self._read_owners()
            for project in sorted({owner for asked in wanted for owner in _owners_of(asked, owners)} - {slug}):
                yield self._bring_project(project, slug)
            self._asked |= wanted
        if not self._has_history:
            yield self._bring_history(slug)
            self._has_history = True
        for release, paths in list_asked().items():
            yield self._bring_elements(release, paths)

    def _read_owners(self) -> dict[str, set[str]]:
        """Name, as projects claim it, to those whose it is; and each slug to itself."""
        owners: dict[str, set[str]] = {project.slug: {project.slug} for project in self._portal.projects()}
        for claim in self._portal.names():
            if claim.held or claim.shared:
                owners.setdefault(claim.name, set()).add(claim.project)
        return owners

    def _bring_history(self, slug: str) -> bool:
        """The releases of the tree's own project that it follows."""
        if slug not in self._owners:
            return False
        ecosystem = Project.everything.get(slug=slug).ecosystem
        versions = _final_versions(self._portal.project(slug))
        followed = upto(versions, newest(versions, ecosystem), ecosystem)[-1 - _BEFORE :] if versions else []
        keep_followed(slug, [_DECODE(self._portal.link_index(slug, version)) for version in followed])
        return bool(followed)

    def _bring_elements(self, release_id: int, paths: list[str]) -> bool:
        """Elements of a release by their paths, as they were."""
        project, version = Release.objects.values_list("project__slug", "version").get(pk=release_id)
        kept = 0
        for some in batched(paths, MOST_ELEMENTS):
            answer = _DECODE_ELEMENTS(self._portal.elements(project, version, some))
            kept += keep_elements(release_id, some, answer.symbols)
        return kept > 0

    def _bring_project(self, slug: str, own: str) -> bool:
        if Project.everything.filter(slug=slug).exists():
            return False
        found = self._portal.project(slug)
        purl = next((n for n, owners in self._owners.items() if n.startswith("pkg:") and slug in owners), "")
        project = Project(slug=slug, title=found.title, purl=purl)
        indexes = [
            _DECODE(self._portal.link_index(slug, version)) for version in _meant(found, project, _manifest_of(own))
        ]
        if not indexes:
            return False
        names = {name for name, owners in self._owners.items() if slug in owners and ":" in name}
        keep_names(slug, found.title, names, indexes)
        note_elsewhere(slug, self._portal.url)
        return True


def _asked_by(slug: str) -> Iterator[str]:
    """Slugs, and names that nobody owns, that the texts of a project rest on."""
    rows = Dependence.objects.filter(release__project__slug=slug, release__is_live=True)
    yield from rows.values_list("project", flat=True)


def _owners_of(asked: str, owners: dict[str, set[str]]) -> set[str]:
    """The projects of a portal whose a name may be. asked: a slug, or ``?`` and a package URL or ``FAMILY:BEGINNING``,
    whose family may be empty for any."""
    if not asked.startswith(NOBODY):
        return owners.get(asked, set())
    name = asked.removeprefix(NOBODY)
    if name.startswith("pkg:"):
        return owners.get(name, set())
    family, _, begin = name.partition(":")
    found: set[str] = set()
    for claimed, slugs in owners.items():
        claimed_in, colon, namespace = claimed.partition(":")
        if colon and family in ("", claimed_in) and (lies_in(begin, namespace) or lies_in(namespace, begin)):
            found |= slugs
    return found


def _manifest_of(slug: str) -> Manifest:
    return get_manifest(Release.objects.filter(project__slug=slug, is_live=True).values_list("pk", flat=True)[0])


def _meant(found: ListedProject, project: Project, manifest: Manifest) -> list[str]:
    """The version that a tree with this manifest means, some before it, and the newest."""
    versions = _final_versions(found)
    if not versions:
        return []
    chosen = choose_version(manifest, project, versions)
    before = upto(versions, chosen, project.ecosystem)[-1 - _BEFORE :]
    return list(dict.fromkeys([*before, chosen, newest(versions, project.ecosystem)]))


def _final_versions(found: ListedProject) -> list[str]:
    return [r.version for r in found.releases if not r.is_preview and not r.held_for]
