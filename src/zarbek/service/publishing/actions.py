"""Every change to runs."""

from __future__ import annotations

import logging
from datetime import timedelta
from pathlib import Path

from django.conf import settings
from django.db import OperationalError, transaction
from django.db.models import F
from django.utils import timezone

from zarbek.core.errors import ZarbekError
from zarbek.service.catalog.models import Release, Source
from zarbek.service.common.deadlocks import retried_on_deadlock
from zarbek.service.common.problems import Conflict, Problem
from zarbek.service.publishing.models import Generation, LogLine, Run
from zarbek.service.publishing.pipeline import Publish, Stage, list_stages
from zarbek.service.publishing.progress import RunProgress, RunTakenOver

logger = logging.getLogger(__name__)


def start_run(
    *, project: str, version: str, bundle: str = "", bundle_digest: str = "", origin: dict[str, str] | None = None,
    is_preview: bool = False, is_dry: bool = False, actor: str = "", idempotency_key: str = "",
) -> tuple[Run, bool]:  # fmt: skip
    """Queue a run; (run, whether it is new). The same release again is answered by the run
    that published it.

    Raises Conflict where other bytes are published under this version.
    """
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
    with transaction.atomic():
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


def _enqueue(run: Run) -> None:
    from zarbek.service.publishing.tasks import execute_run  # The task imports this module.

    execute_run.enqueue(run.pk, run.attempt)


def execute(run_id: int, attempt: int) -> None:
    """Run all stages. Whatever happens, the run ends in a state that says what happened."""
    claimed = Run.objects.filter(pk=run_id, attempt=attempt, state__in=("queued", "running")).update(
        state="running", heartbeat_at=timezone.now()
    )
    if not claimed:
        return
    run = Run.objects.get(pk=run_id)
    publish = Publish(run, RunProgress(run))
    try:
        for name, stage in list_stages():
            publish.progress.enter(name)
            _run_stage(stage, publish)
        _finish(run, "done", counts=publish.counts)
    except RunTakenOver:
        logger.warning("run %s attempt %s was taken over", run_id, attempt)
        return
    except (ZarbekError, Problem) as error:
        _fail(publish, str(error) if isinstance(error, ZarbekError) else error.detail)
    except OperationalError:
        raise  # The database went away: the sweep takes the run up again.
    except Exception as error:  # The worker's outer edge: the run must end and say so.
        logger.exception("run %s failed", run_id)
        _fail(publish, f"{type(error).__name__}: {error}. This is a fault of the portal; its log has more.")
    if run.is_dry and publish.release is not None:
        publish.release.delete()


@retried_on_deadlock
def _run_stage(stage: Stage, publish: Publish) -> None:
    """Stages can be taken up at any point, so one that lost its locks begins again."""
    stage(publish)


def renew_pages() -> None:
    """Pages that are kept in memory are made anew."""
    if not Generation.objects.filter(pk=1).update(number=F("number") + 1):
        Generation.objects.get_or_create(pk=1, defaults={"number": 1})


@retried_on_deadlock
def _finish(run: Run, state: str, **values: object) -> None:
    renew_pages()
    Run.objects.filter(pk=run.pk, attempt=run.attempt).update(
        state=state, finished_at=timezone.now(), done=F("total"), **values
    )


def _fail(publish: Publish, reason: str) -> None:
    run = publish.run
    LogLine.objects.create(run=run, level="error", text=reason)
    _finish(run, "failed", problem=reason)
    release = publish.release
    if release is not None and not run.is_dry:
        Release.objects.filter(pk=release.pk, is_live=False).delete()


def requeue_abandoned() -> int:
    """Take up runs whose worker has died; how many. Too many deaths end a run."""
    limit = timezone.now() - timedelta(seconds=settings.STALE_RUN_SECONDS)
    count = 0
    for run in Run.objects.filter(state="running", heartbeat_at__lt=limit):
        if run.attempt >= settings.MAX_RUN_ATTEMPTS:
            _finish(run, "failed", problem=f"The worker died {run.attempt} times at {run.stage}.")
            continue
        with transaction.atomic():
            taken = Run.objects.filter(pk=run.pk, attempt=run.attempt, state="running").update(
                attempt=F("attempt") + 1, state="queued", heartbeat_at=timezone.now()
            )
            if taken:
                run.refresh_from_db()
                LogLine.objects.create(run=run, level="warning", text="The worker died; starting again.")
                _enqueue(run)
                count += 1
    return count


def beat(run_ids: list[int]) -> None:
    Run.objects.filter(pk__in=run_ids, state="running").update(heartbeat_at=timezone.now())


def keep_upload(part: str, digest: str) -> str:
    """Move an upload to its place by content; the name under which it is kept."""
    name = f"bundles/{digest[:2]}/{digest}.bundle"
    target = Path(settings.MEDIA_ROOT) / name
    target.parent.mkdir(parents=True, exist_ok=True)
    Path(part).replace(target)
    return name
