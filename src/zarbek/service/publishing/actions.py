"""Every change to runs."""

from __future__ import annotations

import logging
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import OperationalError, transaction
from django.db.models import F
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from zarbek.core.errors import ZarbekError
from zarbek.service.catalog.actions import check_label
from zarbek.service.catalog.models import Release, Source
from zarbek.service.common.deadlocks import retried_on_deadlock, retried_on_race
from zarbek.service.common.problems import Conflict, Problem
from zarbek.service.common.storage import storage_problem
from zarbek.service.publishing.models import Generation, LogLine, Run, Start
from zarbek.service.publishing.pipeline import Publish, Stage, list_stages, version_while_stored
from zarbek.service.publishing.progress import RunProgress, RunTakenOver

logger = logging.getLogger(__name__)


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
    if idempotency_key:
        # A run that failed published nothing, so the same request may try again.
        tried = Run.objects.filter(idempotency_key=idempotency_key, project=project)
        known = tried.exclude(state="failed").first()
        if known is not None:
            return known, False
    if not is_preview and not is_dry and bundle_digest:
        published = _find_published(project, version, bundle_digest)
        if published is not None:
            return published, False
    Start.objects.get_or_create(project=project)
    with transaction.atomic():
        Start.objects.select_for_update().get(project=project)  # One at a time.
        if not is_preview and not is_dry and bundle_digest:
            same = _find_active(project, version, bundle_digest)
            if same is not None:
                return same, False
        run = Run.objects.create(
            project=project, version=version, bundle=bundle, bundle_digest=bundle_digest,
            origin=origin or {}, is_preview=is_preview, is_dry=is_dry, actor=actor,
            idempotency_key=idempotency_key,
        )  # fmt: skip
        _enqueue(run)
    return run, True


def start_fetch(source: Source, ref: str, version: str, *, actor: str, is_preview: bool = False) -> Run:
    """Queue a run that gathers a ref of a repository by itself."""
    origin = {"address": source.address, "ref": ref, "folder": source.folder}
    run, _ = start_run(
        project=source.project.slug, version=version, is_preview=is_preview, actor=actor, origin=origin
    )  # fmt: skip
    return run


def version_of_tag(tag: str) -> str:
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
    return runs.filter(state__in=("queued", "running")).first() or _find_published(project, version, digest)


def _enqueue(run: Run) -> None:
    from zarbek.service.publishing.tasks import execute_run  # The task imports this module.

    job = execute_run.enqueue(run.pk, run.attempt)
    Run.objects.filter(pk=run.pk).update(job=job.id, queued_at=timezone.now())


def execute(run_id: int, attempt: int) -> None:
    """Run all stages. Whatever happens, the run ends in a state that says what happened."""
    claimed = Run.objects.filter(pk=run_id, attempt=attempt, state="queued").update(
        state="running", heartbeat_at=timezone.now(), stage_at=timezone.now(), worker=settings.WORKER_ID
    )
    if not claimed:
        return
    run = Run.objects.get(pk=run_id)
    publish = Publish(run, RunProgress(run))
    try:
        _run_all(publish)
    except RunTakenOver:
        logger.warning("run %s attempt %s was taken over", run_id, attempt)


def _run_all(publish: Publish) -> None:
    """Raises RunTakenOver, having written nothing since, where another attempt has the run now."""
    try:
        for name, stage in list_stages():
            publish.progress.enter(name)
            _run_stage(stage, publish)
        _end(publish, "done", counts=publish.counts)
    except RunTakenOver:
        raise
    except (ZarbekError, Problem) as error:
        _fail(publish, str(error) if isinstance(error, ZarbekError) else error.detail)
    except OSError as error:
        problem = storage_problem(error)
        if problem is None:
            logger.exception("run %s failed", publish.run.pk)
        _fail(publish, problem.detail if problem is not None else f"{type(error).__name__}: {error}.")
    except OperationalError:
        raise  # The database went away: the sweep takes the run up again.
    except Exception as error:  # The worker's outer edge: the run must end and say so.
        logger.exception("run %s failed", publish.run.pk)
        _fail(publish, f"{type(error).__name__}: {error}. This is a fault of the portal; its log has more.")


@retried_on_race
def _run_stage(stage: Stage, publish: Publish) -> None:
    """Stages can be taken up at any point, so one that lost its locks begins again."""
    stage(publish)


def renew_pages() -> None:
    """Pages that are kept in memory are made anew."""
    if not Generation.objects.filter(pk=1).update(number=F("number") + 1):
        Generation.objects.get_or_create(pk=1, defaults={"number": 1})


@retried_on_deadlock
def _end(publish: Publish, state: str, **values: object) -> None:
    """The run's last word. What was stored for a look only, or never went live, goes with it."""
    run, release = publish.run, publish.release
    with publish.progress.fenced():
        if release is not None and (run.is_dry or state == "failed"):
            Release.objects.filter(pk=release.pk, is_live=False).delete()
        _close(run, state, **values)
    renew_pages()


def _close(run: Run, state: str, **values: object) -> None:
    Run.objects.filter(pk=run.pk).update(state=state, finished_at=timezone.now(), done=F("total"), **values)


def _fail(publish: Publish, reason: str) -> None:
    publish.progress.log(reason, "error")
    _end(publish, "failed", problem=reason)


def give_up(run: Run, reason: str) -> bool:
    """End a run from outside, whatever its attempt is at; whether it was still going. What it had
    stored and not shown goes; an attempt that goes on finds that it may write nothing more."""
    with transaction.atomic():
        going = Run.objects.select_for_update().filter(pk=run.pk, state__in=("queued", "running")).first()
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
        _close(going, "failed", problem=reason)
    renew_pages()
    return True


def cancel_run(run: Run, actor: str) -> None:
    """End a run that waits or goes. Raises Conflict for one that has ended."""
    if not give_up(run, f"{actor} cancelled it."):
        run.refresh_from_db()
        raise Conflict(f"Run {run.pk} cannot be cancelled: it is {run.state}.")


def retry_run(run: Run, actor: str) -> Run:
    """A new run of what a failed one was to publish. Raises Conflict for a run that did not fail, or whose
    bundle is no longer kept."""
    if run.state != "failed":
        raise Conflict(f"Run {run.pk} cannot be tried again: it is {run.state}.")
    if run.bundle and not Path(settings.MEDIA_ROOT, run.bundle).is_file():
        raise Conflict(f"The bundle of run {run.pk} is no longer kept. Publish it again.")
    # What a run gathered itself is gathered anew.
    has_origin = bool(run.origin)
    again, _ = start_run(
        project=run.project, version=run.version, bundle="" if has_origin else run.bundle,
        bundle_digest="" if has_origin else run.bundle_digest, origin=run.origin, is_preview=run.is_preview,
        is_dry=run.is_dry, actor=actor,
    )  # fmt: skip
    return again


def requeue_abandoned() -> int:
    """Take up runs whose worker has died, or died between taking the job and beginning; how many."""
    limit = timezone.now() - timedelta(seconds=settings.STALE_RUN_SECONDS)
    silent = list(Run.objects.filter(state="running", heartbeat_at__lt=limit))
    waiting = Run.objects.filter(state="queued", queued_at__lt=limit)
    ready = set(
        DBTaskResult.objects.filter(pk__in=[r.job for r in waiting if r.job]).ready().values_list("pk", flat=True)
    )
    lost = [r for r in waiting if r.job not in ready]
    return sum(requeue(run) for run in [*silent, *lost])


def requeue_of_worker(worker: str) -> int:
    """Take up what a worker was at that is known to be dead; how many."""
    return sum(requeue(run) for run in Run.objects.filter(state="running", worker=worker))


def requeue(run: Run) -> bool:
    """Begin a run again under a new attempt; too many deaths end it. Whether it begins again."""
    if run.attempt >= settings.MAX_RUN_ATTEMPTS:
        give_up(run, f"The worker died {run.attempt} times at {run.stage or 'its beginning'}.")
        return False
    with transaction.atomic():
        taken = Run.objects.filter(pk=run.pk, attempt=run.attempt, state=run.state).update(
            attempt=F("attempt") + 1, state="queued", heartbeat_at=timezone.now(), worker=""
        )
        if taken:
            run.refresh_from_db()
            LogLine.objects.create(run=run, level="warning", text="The worker died; starting again.")
            _enqueue(run)
    return bool(taken)


def beat(worker: str) -> None:
    """A worker lives, and with it what it is at."""
    Run.objects.filter(worker=worker, state="running").update(heartbeat_at=timezone.now())


def end_overdue(worker: str) -> int:
    """End the runs of a worker whose stage takes longer than it may; how many. Whoever does the work
    is for the caller to end first."""
    return sum(give_up(run, reason) for run, reason in list_overdue(worker))


def list_overdue(worker: str) -> list[tuple[Run, str]]:
    """Runs of a worker whose stage takes longer than it may, each with the reason in words."""
    now = timezone.now()
    found = []
    for run in Run.objects.filter(worker=worker, state="running").exclude(stage_at=None):
        limit = settings.STAGE_LIMITS_S.get(run.stage, settings.STAGE_LIMIT_S)
        if (now - run.stage_at).total_seconds() > limit:
            found.append((run, f"The stage {run.stage or 'begin'} took longer than {limit:g} s and was ended."))
    return found


def keep_upload(part: str, digest: str) -> str:
    """Move an upload to its place by content; the name under which it is kept."""
    name = f"bundles/{digest[:2]}/{digest}.bundle"
    target = Path(settings.MEDIA_ROOT) / name
    target.parent.mkdir(parents=True, exist_ok=True)
    Path(part).replace(target)
    return name


def let_go(slug: str, version: str, **_: object) -> None:
    """Runs of a project that is removed end; a release that a run is at stays. Raises Conflict for one."""
    runs = Run.objects.filter(project=slug, state__in=("queued", "running"))
    if version and runs.filter(version=version).exists():
        raise Conflict(f"A run is at {slug} {version}. Wait for its end.")
    if not version:
        for run in runs:
            give_up(run, "The project was removed.")
        Run.objects.filter(project=slug).delete()
