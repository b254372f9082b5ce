"""Finding projects and releases."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import msgspec
from django.db.models import Count, Prefetch, Q, QuerySet

from zarbek.core.errors import VersionError
from zarbek.core.linking.versions import choose, sort_key
from zarbek.service.catalog.elsewhere import releases_elsewhere
from zarbek.service.catalog.models import (
    Alias,
    Membership,
    NameClaim,
    OutsideNamespace,
    PortalChange,
    PortalState,
    Project,
    Release,
)
from zarbek.service.common.problems import NotFound

LATEST = "latest"


def get_project(slug: str) -> Project:
    """A project by slug. Raises NotFound."""
    project = Project.objects.filter(slug=slug).first()
    if project is None:
        raise NotFound(f"There is no project {slug} in this portal.")
    return project


def list_releases(project: Project, *, previews: bool = True) -> list[Release]:
    """Live releases, newest first; previews last."""
    rows = project.releases.filter(is_live=True)
    return in_order(project, (row for row in rows if previews or not row.is_preview))


def in_order(project: Project, releases: Iterable[Release]) -> list[Release]:
    """Releases of a project, newest first; previews last."""
    return sorted(releases, key=lambda r: (not r.is_preview, sort_key(r.version, project.ecosystem)), reverse=True)


def with_releases(projects: QuerySet[Project]) -> QuerySet[Project]:
    """Projects that have their live releases as ``live``, in no order, and their aliases: two queries for all."""
    live = Release.objects.filter(is_live=True)
    return projects.prefetch_related("aliases", Prefetch("releases", queryset=live, to_attr="live"))


def list_followed(project: Project) -> list[Release]:
    """Releases that one may follow, newest first: no previews. In the preview of a working tree those of its portal as
    well, which nobody can read here."""
    kept = project.releases.filter(pk__in=releases_elsewhere(), is_live=False) if releases_elsewhere() else ()
    return in_order(project, [*list_releases(project, previews=False), *kept])


def list_choosable(project: Project) -> list[Release]:
    """Releases that others' references may mean, newest first: no previews, nothing held back."""
    return [r for r in list_releases(project, previews=False) if not r.hold]


def find_release(project: Project, version: str) -> Release | None:
    """A live release by version, alias or range; empty means latest."""
    live = project.releases.filter(is_live=True)
    exact = live.filter(version=version).first() if version else None
    if exact is not None:
        return exact
    alias = Alias.objects.filter(project=project, name=version or LATEST).first()
    if alias is not None:
        return live.filter(pk=alias.release_id).first()
    if not version:
        return live.order_by("-published_at").first()
    try:
        chosen = choose([r.version for r in list_choosable(project)], version)
    except VersionError:
        return None
    return live.filter(version=chosen).first() if chosen else None


def get_release(slug: str, version: str) -> Release:
    """A release by version or alias, the latest for an empty one. Raises NotFound with those that there are."""
    project = get_project(slug)
    release = find_release(project, version)
    if release is None:
        known = ", ".join(r.version for r in list_releases(project)[:5]) or "none yet"
        raise NotFound(f"{slug} has no release {version or LATEST}. Published: {known}.")
    return release


def contested_names(names: Iterable[str] | None = None) -> list[str]:
    """Names, of some or of all, that several projects claim and about which nobody has decided since the
    last of them did."""
    rows = NameClaim.objects.all() if names is None else NameClaim.objects.filter(name__in=list(names))
    counted = (
        rows.order_by().values("name").annotate(claims=Count("pk"), undecided=Count("pk", filter=Q(decided_by="")))
    )
    return sorted(counted.filter(claims__gt=1, undecided__gt=0).values_list("name", flat=True))


def read_manifest(release: Release) -> dict[str, Any]:
    """The manifest as it was sent."""
    raw = Release.objects.values_list("manifest", flat=True).get(pk=release.pk)
    return msgspec.json.decode(raw, type=dict[str, Any])


def outside_addresses() -> dict[str, str]:
    """Where readers are sent for names outside the portal: patterns by namespace."""
    return dict(OutsideNamespace.objects.values_list("name", "pattern"))


def claims_of(slug: str = "", *, contested: bool = False) -> QuerySet[NameClaim]:
    """Claims with their projects: of one project, or of names that several claim and nobody has decided."""
    rows = NameClaim.objects.select_related("project")
    if slug:
        rows = rows.filter(project__slug=slug)
    return rows.filter(name__in=contested_names()) if contested else rows


def list_members(project: Project | None) -> list[Membership]:
    """Those who have a part in a project, in all of them first; only in all for None."""
    rows = Membership.objects.select_related("user", "team")
    wanted = Q(project=None) if project is None else Q(project=None) | Q(project=project)
    return sorted(rows.filter(wanted), key=lambda m: (m.project_id is not None, m.pk))


def last_change() -> int:
    """The number of the portal's last change that is kept; 0 before the first."""
    return PortalState.objects.filter(pk=1).values_list("number", flat=True).first() or 0


def list_changes(after: int) -> list[PortalChange]:
    """Changes of the portal since one, in their order."""
    return list(PortalChange.objects.filter(number__gt=after))


def has_project(slug: str) -> bool:
    """Whether there is a project of a slug."""
    return Project.objects.filter(slug=slug).exists()


def live_versions(slug: str) -> set[str]:
    """Versions of a project that are published and shown."""
    return set(Release.objects.filter(project__slug=slug, is_live=True).values_list("version", flat=True))
