"""The states of a run, and what it writes of its release."""

from __future__ import annotations

import msgspec
from django.conf import settings
from django.db.models import F
from django.utils import timezone

from zarbek.core.errors import BundleRefused
from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.metrics import PUBLISHES
from zarbek.service.publishing.models import GOING, Run


def claim_run(run_id: int, attempt: int) -> Run | None:
    """The run, now this worker's; None where it is another's or has ended."""
    now = timezone.now()
    claimed = Run.objects.filter(pk=run_id, attempt=attempt, state="queued").update(
        state="running", heartbeat_at=now, stage_at=now, worker=settings.WORKER_ID
    )
    return Run.objects.get(pk=run_id) if claimed else None


def close_run(run: Run, state: str, **values: object) -> None:
    """End a run as done or failed, with other columns of it. One that failed published nothing, so the same
    request, by its key, may try again."""
    if state == "failed":
        values["idempotency_key"] = None
    PUBLISHES.labels("dry" if run.is_dry and state == "done" else state).inc()
    Run.objects.filter(pk=run.pk).update(state=state, finished_at=timezone.now(), done=F("total"), **values)


def version_while_stored(run: Run, version: str) -> str:
    """The version under which a run keeps its release until it goes live; what replaces another, or
    only looks, is kept apart."""
    return f"{version}~{run.pk}" if run.is_preview or run.is_dry else version


def give_bundle(run: Run, name: str, digest: str) -> None:
    """Say what a run publishes, once that has been gathered. name: below the folder of files."""
    run.bundle, run.bundle_digest = name, digest
    run.save(update_fields=["bundle", "bundle_digest"])


def keep_report(run: Run, report: bytes, counts: dict[str, int]) -> None:
    """Keep a run's report, packed, and its counts."""
    Run.objects.filter(pk=run.pk).update(report=report, counts=counts)


def add_namespace_changes(run: Run, names: set[str]) -> None:
    """Names that the project provides since this run, or no longer does, beside those known already."""
    run.namespace_changes = sorted(names.union(run.namespace_changes))
    run.save(update_fields=["namespace_changes"])


def receive_release(run: Run, project: Project, version: str, manifest: Manifest) -> Release:
    """The run's release: a new one, or what an earlier attempt of the same bytes left unfinished.

    Raises BundleRefused where another run has published the version, or is about to.
    """
    release, made = Release.objects.get_or_create(
        project=project, version=version,
        defaults={
            "bundle_digest": run.bundle_digest, "commit": manifest.commit,
            "is_preview": run.is_preview, "manifest": msgspec.json.encode(manifest),
            "has_editions": bool(manifest.editions),
        },
    )  # fmt: skip
    if made:
        return release
    others = Run.objects.filter(project=run.project, version=version, is_dry=False).exclude(pk=run.pk)
    is_same = release.bundle_digest == run.bundle_digest
    if others.filter(state="done").exists() or (release.is_live and not is_same):
        raise BundleRefused(f"{run.project} {version} is published already; a release never changes")
    if is_same:
        return release
    if others.filter(state__in=GOING).exists():
        raise BundleRefused(f"{run.project} {version} is being published with other content")
    release.delete()  # A run that was given up left it.
    return receive_release(run, project, version, manifest)


def keep_contents(release: Release, contents: bytes, counts: dict[str, int]) -> None:
    """Keep where a release's blocks are, packed, and its counts."""
    release.contents, release.counts = contents, counts
    release.save(update_fields=["contents", "counts"])


def hold_release(release: Release, reason: str) -> None:
    """Keep it from becoming ``latest``, for a reason in words; an empty one does not."""
    release.held_for = reason
    Release.objects.filter(pk=release.pk).update(held_for=reason)


def discard_unseen(release: Release) -> None:
    """What never went live goes."""
    Release.objects.filter(pk=release.pk, is_live=False).delete()
