"""Every change to projects, releases and aliases."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from zarbek.core.linking.profile import family_of
from zarbek.core.linking.versions import is_prerelease, newest
from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.models import Alias, Project, Release
from zarbek.service.catalog.queries import LATEST, list_releases

STABLE = "stable"


def ensure_project(slug: str, title: str = "") -> Project:
    project, _ = Project.objects.get_or_create(slug=slug, defaults={"title": title or slug})
    return project


def describe_project(project: Project, manifest: Manifest) -> None:
    """What the newest release says about its project becomes the project's own description."""
    project.title = manifest.title or project.slug
    project.summary, project.purl = manifest.summary, manifest.purl
    project.owner = manifest.owner or project.owner
    project.namespaces = _namespaces_of(manifest)
    project.save(update_fields=["title", "summary", "purl", "owner", "namespaces"])


def go_live(release: Release, version: str, manifest: Manifest) -> None:
    """Make a stored release visible under its version and switch the aliases, at once."""
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project_id)
        if release.is_preview:
            project.releases.filter(version=version, is_preview=True).exclude(pk=release.pk).delete()
        release.version, release.is_live = version, True
        release.published_at = release.published_at or timezone.now()
        release.save(update_fields=["version", "is_live", "published_at"])
        switch_aliases(project)
        latest = project.aliases.filter(name=LATEST).first()
        if latest is None or latest.release_id == release.pk:
            describe_project(project, manifest)


def switch_aliases(project: Project) -> None:
    """``latest``: the newest release, a final one if there is any. ``stable``: the newest final one."""
    versions = {r.version: r.pk for r in list_releases(project, previews=False)}
    latest = newest(versions)
    stable = newest(v for v in versions if not is_prerelease(v))
    for name, version in ((LATEST, latest), (STABLE, stable)):
        if version:
            Alias.objects.update_or_create(project=project, name=name, defaults={"release_id": versions[version]})


def _namespaces_of(manifest: Manifest) -> list[str]:
    """``family:namespace`` for what a release provides: languages of one family share names."""
    provides = manifest.provides or dict.fromkeys(manifest.languages or [""], manifest.namespaces)
    return sorted({f"{family_of(language)}:{name}" for language, names in provides.items() for name in names})
