"""Every change to repositories and running services, and fetching what they have."""

from __future__ import annotations

from typing import Any

from zarbek.service.catalog.actions import ensure_project
from zarbek.service.catalog.models import Project
from zarbek.service.common.signing import new_signing_secret
from zarbek.service.publishing.actions import start_run, version_of_tag
from zarbek.service.publishing.models import Run
from zarbek.service.sources.models import RunningService, Source


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


def remove_source(source: Source) -> None:
    """The repository is gathered no more; what was published of it stays."""
    source.delete()


def start_fetch(source: Source, ref: str, version: str, *, actor: str, is_preview: bool = False) -> Run:
    """Queue a run that gathers a ref of a repository by itself."""
    origin = {"address": source.address, "ref": ref, "folder": source.folder}
    run, _ = start_run(
        project=source.project.slug, version=version, is_preview=is_preview, actor=actor, origin=origin
    )  # fmt: skip
    return run


def fetch_tags(source: Source, tags: list[str]) -> list[Run]:
    """Publish tags, oldest first; those that a run is at already, or failed at, are left alone."""
    started = []
    for tag in tags:
        version = version_of_tag(tag)
        if not Run.objects.filter(project=source.project.slug, version=version, is_dry=False).exists():
            started.append(start_fetch(source, tag, version, actor="poll"))
    return started
