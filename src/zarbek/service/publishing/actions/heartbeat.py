"""Which workers live, and what becomes of the runs of those that do not."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.db import transaction
from django.db.models import F
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from zarbek.service.publishing.actions.runs import enqueue_run, give_up, start_next
from zarbek.service.publishing.models import LogLine, Run


def requeue_abandoned() -> int:
    """Take up runs whose worker has died, or died between taking the job and beginning; how many."""
    limit = timezone.now() - timedelta(seconds=settings.STALE_RUN_SECONDS)
    silent = list(Run.objects.filter(state="running", heartbeat_at__lt=limit))
    waiting = list(Run.objects.filter(state="queued", queued_at__lt=limit))
    for project in sorted({run.project for run in waiting if run.job is None}):
        start_next(project)  # Where who ended the one before died before it said so.
    jobs = [run.job for run in waiting if run.job is not None]
    ready = set(DBTaskResult.objects.filter(pk__in=jobs).ready().values_list("pk", flat=True))
    lost = [run for run in waiting if run.job is not None and run.job not in ready]
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
            enqueue_run(run)
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
