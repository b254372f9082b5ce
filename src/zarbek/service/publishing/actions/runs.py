"""Every change to runs."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from django.conf import settings
from django.db import transaction
from django.db.models import F
from django.utils import timezone

from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.actions.projects import check_label
from zarbek.service.catalog.models import Release
from zarbek.service.common.deadlocks import retried_on_deadlock, retried_on_race
from zarbek.service.common.problems import Conflict
from zarbek.service.publishing.actions.cache_epoch import renew_pages
from zarbek.service.publishing.actions.run_state import close_run, version_while_stored
from zarbek.service.publishing.models import GOING, LogLine, ProjectStart, Run
from zarbek.service.publishing.tasks import execute_run

#: Runs of one version that are looked through for the same archive.
_RUNS = 100


@retried_on_race
def start_run(
    *, project: str, version: str, bundle: str = "", bundle_digest: str = "", origin: dict[str, str] | None = None,
    is_preview: bool = False, is_dry: bool = False, actor: str = "", idempotency_key: str = "",
) -> tuple[Run, bool]:  # fmt: skip
    """Queue a run; (run, whether it is new). The same release again is answered by the run
    that published it.

    Raises Conflict where other bytes are published under this version, Refused for a version that is
    called like an alias.
    """
    check_label(project, version)
    with while_nothing_starts(project):
        known = (
            Run.objects.filter(project=project, idempotency_key=idempotency_key).first() if idempotency_key else None
        )
        if known is None and not is_preview and not is_dry:
            archive = (origin or {}).get("archive", "")
            known = (
                _find_active(project, version, bundle_digest)
                if bundle_digest
                else _find_same(project, version, archive)
            )
        if known is not None:
            return known, False
        run = Run.objects.create(
            project=project, version=version, bundle=bundle, bundle_digest=bundle_digest,
            origin=origin or {}, is_preview=is_preview, is_dry=is_dry, actor=actor,
            idempotency_key=idempotency_key or None,
        )  # fmt: skip
        _enqueue_first(project)
    return run, True


@contextmanager
def while_nothing_starts(project: str) -> Iterator[None]:
    """A transaction in which no run of a project is started or taken into the queue by anybody else."""
    ProjectStart.objects.get_or_create(project=project)
    with transaction.atomic():
        ProjectStart.objects.select_for_update().get(project=project)
        yield


@retried_on_race
def start_next(project: str) -> None:
    """Let the run of a project that came next begin, where none goes: one at a time, in order of arrival.

    Whoever ends a run calls it once that is kept; ``requeue_abandoned`` does so for who died before.
    """
    with while_nothing_starts(project):
        _enqueue_first(project)


def _enqueue_first(project: str) -> None:
    first = Run.objects.filter(project=project, state__in=GOING).order_by("pk").first()
    if first is not None and first.state == "queued" and first.job is None:
        enqueue_run(first)


def version_of_tag(tag: str) -> str:
    """The version that a tag names."""
    return tag.removeprefix("v")


def _find_published(project: str, version: str, digest: str) -> Run | None:
    release = Release.objects.filter(project__slug=project, version=version, is_live=True).first()
    if release is None:
        return None
    if release.bundle_digest != digest:
        raise Conflict(
            f"{project} {version} is published with other content, and a release never changes. "
            "Publish the new content under a new version."
        )
    runs = Run.objects.filter(project=project, version=version, is_dry=False).exclude(state="failed")
    return runs.order_by("state").first()  # None where its run was lost after it went live: then it is done again.


def _find_active(project: str, version: str, digest: str) -> Run | None:
    """The run that is about to publish the very same bytes, or has just done so."""
    runs = Run.objects.filter(project=project, version=version, bundle_digest=digest, is_dry=False, is_preview=False)
    return runs.filter(state__in=GOING).first() or _find_published(project, version, digest)


def _find_same(project: str, version: str, archive: str) -> Run | None:
    """The run that publishes the same archive under this version, or has done so."""
    runs = Run.objects.filter(project=project, version=version, is_dry=False, is_preview=False).exclude(state="failed")
    return next((run for run in runs[:_RUNS] if archive and run.origin.get("archive") == archive), None)


def enqueue_run(run: Run) -> None:
    """Put an attempt at a run into the queue, and note its job."""
    job = execute_run.enqueue(run.pk, run.attempt)
    Run.objects.filter(pk=run.pk).update(job=job.id, queued_at=timezone.now())


@retried_on_deadlock
def give_up(run: Run, reason: str) -> bool:
    """End a run from outside, whatever its attempt is at; whether it was still going. What it had
    stored and not shown goes; an attempt that goes on finds that it may write nothing more."""
    with transaction.atomic():
        going = Run.objects.select_for_update().filter(pk=run.pk, state__in=GOING).first()
        if going is None or going.attempt != run.attempt:
            return False
        LogLine.objects.create(run=going, level="error", text=reason)
        Run.objects.filter(pk=going.pk).update(attempt=F("attempt") + 1)
        stored_as = version_while_stored(going, going.version)
        others = Run.objects.filter(
            project=going.project, version=going.version, state__in=("queued", "running", "done")
        )
        if stored_as != going.version or not others.exclude(pk=going.pk).filter(is_dry=False).exists():
            Release.objects.filter(project__slug=going.project, version=stored_as, is_live=False).delete()
        close_run(going, "failed", problem=reason)
    start_next(going.project)
    renew_pages([going.project])
    return True


def cancel_run(run: Run, actor: str) -> None:
    """End a run that waits or goes. Raises Conflict for one that has ended."""
    if not give_up(run, f"{actor} cancelled it."):
        run.refresh_from_db()
        raise Conflict(f"Run {run.pk} cannot be cancelled: it is {run.state}.")
    note("run.cancelled", project=run.project, subject=run.version, after={"run": run.pk})


def retry_run(run: Run, actor: str) -> Run:
    """A new run of what a failed one was to publish. Raises Conflict for a run that did not fail, or whose
    bundle is no longer kept."""
    if run.state != "failed":
        raise Conflict(f"Run {run.pk} cannot be tried again: it is {run.state}.")
    sent = run.origin.get("archive") or run.bundle
    if sent and not Path(settings.MEDIA_ROOT, sent).is_file():
        raise Conflict(f"What run {run.pk} was sent is no longer kept. Publish it again.")
    # What a run gathered itself is gathered anew.
    has_origin = bool(run.origin)
    again, _ = start_run(
        project=run.project, version=run.version, bundle="" if has_origin else run.bundle,
        bundle_digest="" if has_origin else run.bundle_digest, origin=run.origin, is_preview=run.is_preview,
        is_dry=run.is_dry, actor=actor,
    )  # fmt: skip
    note("run.retried", project=run.project, subject=run.version, before={"run": run.pk}, after={"run": again.pk})
    return again


def keep_upload(part: str, digest: str, kind: str = "bundle") -> str:
    """Move an upload to its place by content; the name under which it is kept. kind: its ending."""
    name = f"bundles/{digest[:2]}/{digest}.{kind}"
    target = Path(settings.MEDIA_ROOT) / name
    target.parent.mkdir(parents=True, exist_ok=True)
    Path(part).replace(target)
    return name


def let_go(slug: str, version: str, **_: object) -> None:
    """Runs of a project that is removed end; a release that a run is at stays. Raises Conflict for one."""
    runs = Run.objects.filter(project=slug, state__in=GOING)
    if version and runs.filter(version=version).exists():
        raise Conflict(f"A run is at {slug} {version}. Wait for its end.")
    if not version:
        for run in runs:
            give_up(run, "The project was removed.")
        Run.objects.filter(project=slug).delete()
