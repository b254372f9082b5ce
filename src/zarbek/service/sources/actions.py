"""Every change to repositories, running services and databases, and fetching what they have."""

from __future__ import annotations

import io
import time
import zipfile
from datetime import datetime, timedelta
from hashlib import sha256
from pathlib import Path
from typing import Any

import msgspec
from django.conf import settings
from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.db.models import Manager
from django.db.transaction import atomic
from django.utils import timezone

from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.actions.projects import ensure_project
from zarbek.service.catalog.models import Project
from zarbek.service.common.signing import new_signing_secret
from zarbek.service.publishing.actions.runs import start_run, version_of_tag
from zarbek.service.publishing.models import Run
from zarbek.service.sources.catalog_child import CatalogAnswer
from zarbek.service.sources.models import Database, RunningService, Source
from zarbek.service.sources.running_services import Asked


def add_source(
    slug: str, *, address: str, folder: str, poll_minutes: int, tags: str, branch: str
) -> tuple[Source, str]:
    """Register a repository, or change how it is watched; its hook's secret where that is new."""
    with atomic():
        return _add_source(slug, address, folder, poll_minutes, tags, branch)


def _add_source(
    slug: str, address: str, folder: str, poll_minutes: int, tags: str, branch: str
) -> tuple[Source, str]:  # fmt: skip
    source, made = Source.objects.get_or_create(project=ensure_project(slug), address=address, folder=folder)
    secret = new_signing_secret() if made else ""
    source.poll_minutes, source.tags, source.branch = poll_minutes, tags, branch
    source.hook_secret = secret or source.hook_secret
    source.due_at = next_due(poll_minutes, source.polled_at)
    source.save()
    facts = {"folder": folder, "poll_minutes": poll_minutes, "tags": tags, "branch": branch}
    note("source.set", project=slug, subject=plain_address(address), after=facts)
    return source, secret


def plain_address(address: str) -> str:
    """The address without what signs in there."""
    scheme, separator, rest = address.partition("://")
    return f"{scheme}{separator}{rest.rpartition('@')[2]}" if separator else address


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
        service.due_at = next_due(service.poll_minutes, service.asked_at)
        if entry["headers"] is not None:
            service.headers = entry["headers"]
        service.save()
    names = sorted(entry["name"] for entry in entries)
    note("services.set", project=project.slug, after=names)


def set_database(
    project: Project, *, address: str, password_from: str, schemas: dict[str, str], poll_minutes: int
) -> Database:
    """The database of a project's data model; what was asked of another one is forgotten."""
    database, _ = Database.objects.get_or_create(project=project, defaults={"address": address})
    if (database.address, database.schemas) != (address, schemas):
        database.digest = database.material = ""
    database.address, database.password_from, database.schemas = address, password_from, schemas
    database.poll_minutes, database.due_at = poll_minutes, next_due(poll_minutes, database.asked_at)
    database.save()
    facts = {"password_from": password_from, "schemas": schemas, "poll_minutes": poll_minutes}
    note("database.set", project=project.slug, subject=address, after=facts)
    return database


def remove_database(database: Database) -> None:
    """The database is asked no more; what was published of it stays."""
    with atomic():
        note("database.removed", project=database.project.slug, subject=database.address)
        database.delete()


def remove_source(source: Source) -> None:
    """The repository is gathered no more; what was published of it stays."""
    with atomic():
        note("source.removed", project=source.project.slug, subject=plain_address(source.address))
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


#: What asking changes of a service.
_HEARD = ("asked_at", "problem", "fetched_at", "changed_at", "entity_tag", "digest", "material")


_HEARD_OF_DATABASE = ("asked_at", "problem", "fetched_at", "changed_at", "digest", "material")


def keep_asked(service: RunningService, asked: Asked) -> bool:
    """Keep what a service said; whether that differs from the last. What went wrong is kept with the
    service, beside what was fetched last."""
    now = timezone.now()
    service.asked_at, service.problem = now, asked.problem
    changed, is_known = False, bool(service.digest)
    if not asked.problem:
        service.fetched_at = now
    if asked.files is not None:
        changed = _keep_files(service, asked.files, asked.entity_tag)
    if changed and is_known:
        service.changed_at = now
    # It may have gone meanwhile, or somebody may have set it anew: only what was heard is written.
    RunningService.objects.bulk_update([service], _HEARD)
    return changed


def _keep_files(service: RunningService, files: dict[str, bytes], tag: str) -> bool:
    digest = sha256(b"".join(name.encode() + b"\0" + sha256(data).digest() for name, data in sorted(files.items())))
    service.entity_tag = tag
    if digest.hexdigest() == service.digest:
        return False
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, data in sorted(files.items()):
            archive.writestr(name, data)
    service.digest = digest.hexdigest()
    service.material = default_storage.save(f"services/{service.digest}.zip", ContentFile(buffer.getvalue()))
    return True


def keep_catalog(database: Database, answer: CatalogAnswer) -> bool:
    """Keep what a database said of itself; whether that differs from the last. What went wrong is kept beside what was
    said last."""
    now = timezone.now()
    database.asked_at, database.problem = now, answer.refused
    is_other = False
    if answer.catalog is not None:
        database.fetched_at = now
        digest = sha256(msgspec.json.encode(msgspec.structs.replace(answer.catalog, read_at=""))).hexdigest()
        is_other = digest != database.digest
    if is_other:
        database.changed_at = now if database.digest else None
        database.digest = digest
        said = ContentFile(msgspec.json.encode(answer.catalog))
        database.material = default_storage.save(f"databases/{digest}.json", said)
    Database.objects.bulk_update([database], _HEARD_OF_DATABASE)  # It may have gone, or been set anew meanwhile.
    return is_other


def sweep_heard() -> int:
    """Remove what services and databases said before the last time; how many files. What came within the last hour
    stays: a run that has begun may be about to read it."""
    limit, removed = time.time() - 3600, 0
    for folder, rows in (("services", RunningService.objects), ("databases", Database.objects)):
        wanted = set(rows.exclude(material="").values_list("material", flat=True))
        for path in sorted(Path(settings.MEDIA_ROOT, folder).glob("*")):
            if f"{folder}/{path.name}" not in wanted and path.stat().st_mtime < limit:
                path.unlink(missing_ok=True)
                removed += 1
    return removed


def keep_polled(source: Source, ahead: dict[str, object], problem: str) -> None:
    """What a repository was found to have that the portal has not, or what stood in the way of seeing."""
    Source.objects.filter(pk=source.pk).update(polled_at=timezone.now(), ahead=ahead, problem=problem)


def claim_due_sources(limit: int = 200) -> list[int]:
    """Ids of repositories whose time has come; each is told to one worker only, and due again when its time comes
    next."""
    return [source.pk for source in _claim_due(Source.objects, limit)]


def claim_due_services(limit: int = 200) -> list[int]:
    """Ids of projects with a running service whose time has come, the same way."""
    return sorted({service.project_id for service in _claim_due(RunningService.objects, limit)})


def claim_due_databases(limit: int = 200) -> list[int]:
    """Ids of databases whose time has come, the same way."""
    return [database.pk for database in _claim_due(Database.objects, limit)]


def _claim_due(rows: Manager[Any], limit: int) -> list[Any]:
    now = timezone.now()
    with atomic():
        due = list(rows.select_for_update(skip_locked=True).filter(due_at__lte=now).order_by("due_at")[:limit])
        for row in due:
            row.due_at = next_due(row.poll_minutes, now)
            row.save(update_fields=["due_at"])
    return due


def next_due(poll_minutes: int, last: datetime | None) -> datetime | None:
    """When what is looked at so often is due after it was last; none for what is never looked at."""
    if not poll_minutes:
        return None
    return timezone.now() if last is None else last + timedelta(minutes=poll_minutes)
