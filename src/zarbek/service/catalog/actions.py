"""Every change to projects, releases and aliases."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from zarbek.core.linking.profile import family_of
from zarbek.core.linking.versions import is_prerelease, newest, supported_versions
from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.models import Alias, Project, Release, RunningService, Source
from zarbek.service.catalog.queries import LATEST, list_choosable, list_releases
from zarbek.service.common.signing import new_signing_secret

STABLE = "stable"


def ensure_project(slug: str, title: str = "") -> Project:
    project, _ = Project.objects.get_or_create(slug=slug, defaults={"title": title or slug})
    return project


def add_source(
    slug: str, *, address: str, folder: str, poll_minutes: int, tags: str, branch: str
) -> tuple[Source, str]:
    """Register a repository, or change how it is watched; its hook's secret where that is new."""
    source, made = Source.objects.get_or_create(project=ensure_project(slug), address=address, folder=folder)
    secret = new_signing_secret() if made else ""
    source.poll_minutes, source.tags, source.branch = poll_minutes, tags, branch
    source.hook_secret = secret or source.hook_secret
    source.save()
    return source, secret


def set_services(project: Project, entries: list[dict[str, Any]]) -> None:
    """Exactly these services; one that is known keeps what was fetched, and its headers unless they
    are given anew."""
    project.services.exclude(name__in=[e["name"] for e in entries]).delete()
    for entry in entries:
        service, _ = RunningService.objects.get_or_create(project=project, name=entry["name"])
        if (service.address, service.server, service.strip) != (entry["address"], entry["server"], entry["strip"]):
            service.entity_tag = service.digest = ""
        service.address, service.server, service.strip = entry["address"], entry["server"], entry["strip"]
        service.poll_minutes = entry["poll_minutes"]
        if entry["headers"] is not None:
            service.headers = entry["headers"]
        service.save()


def describe_project(project: Project, manifest: Manifest) -> None:
    """What the newest release says about its project becomes the project's own description."""
    project.title = manifest.title or project.slug
    project.summary, project.purl = manifest.summary, manifest.purl
    project.owner = manifest.owner or project.owner
    project.namespaces = _namespaces_of(manifest)
    project.save(update_fields=["title", "summary", "purl", "owner", "namespaces"])


def go_live(release: Release, version: str, manifest: Manifest) -> set[str]:
    """Make a stored release visible under its version and switch the aliases, at once. The names,
    without family, and package URLs that the project has now and had not before, or the other way
    round."""
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project_id)
        if release.is_preview:
            project.releases.filter(version=version, is_preview=True).exclude(pk=release.pk).delete()
        release.version, release.is_live = version, True
        release.published_at = release.published_at or timezone.now()
        release.is_judged = release.is_preview
        release.save(update_fields=["version", "is_live", "published_at", "is_judged"])
        if not release.is_preview and not release.hold:
            _take_lines(project, release, manifest)
        switch_aliases(project)
        release.refresh_from_db(fields=["is_judged"])
        return describe_if_latest(project, release, manifest)


def describe_if_latest(project: Project, release: Release, manifest: Manifest) -> set[str]:
    before = _plain_names(project)
    latest = project.aliases.filter(name=LATEST).first()
    if latest is None or latest.release_id == release.pk:
        describe_project(project, manifest)
    return before ^ _plain_names(project)


def _plain_names(project: Project) -> set[str]:
    return {entry.partition(":")[2] for entry in project.namespaces} | ({project.purl} if project.purl else set())


def _take_lines(project: Project, release: Release, manifest: Manifest) -> None:
    """The newest release says which lines are supported and which team owns which files."""
    others = [r.version for r in list_releases(project, previews=False)]
    if newest([*others, release.version]) == release.version:
        project.supported, project.owners = manifest.supported, manifest.owners
        project.save(update_fields=["supported", "owners"])


def switch_aliases(project: Project) -> None:
    """``latest``: the newest release, a final one if there is any. ``stable``: the newest final one.
    What the project's policy holds back counts for neither."""
    found = list_choosable(project)
    versions = {r.version: r.pk for r in found}
    latest = newest(versions)
    stable = newest(v for v in versions if not is_prerelease(v))
    for name, version in ((LATEST, latest), (STABLE, stable)):
        if version:
            Alias.objects.update_or_create(project=project, name=name, defaults={"release_id": versions[version]})
    mark_judged(project, found)


def mark_judged(project: Project, releases: list[Release]) -> None:
    """releases: live ones that nothing holds back."""
    published = [r.version for r in sorted(releases, key=lambda r: (r.published_at, r.pk))]
    retired = {r.version for r in releases if r.support == "retired"}
    wanted = set(supported_versions(published, project.supported, retired))
    wanted |= {r.version for r in releases if r.support == "supported"}
    rows = project.releases.filter(is_live=True, is_preview=False)
    rows.filter(version__in=wanted).exclude(is_judged=True).update(is_judged=True)
    rows.exclude(version__in=wanted).filter(is_judged=True).update(is_judged=False)


def set_support(release: Release, support: str) -> None:
    """support: ``supported``, ``retired``, or empty for the rule. What becomes judged by it is for
    the caller to link."""
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project_id)
        Release.objects.filter(pk=release.pk).update(support=support)
        switch_aliases(project)


def _namespaces_of(manifest: Manifest) -> list[str]:
    """``family:namespace`` for what a release provides: languages of one family share names."""
    provides = manifest.provides or dict.fromkeys(manifest.languages or [""], manifest.namespaces)
    return sorted({f"{family_of(language)}:{name}" for language, names in provides.items() for name in names})
