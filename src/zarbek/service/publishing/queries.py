"""Finding runs."""

from __future__ import annotations

from django.db.models import Count
from django_tasks_db.models import DBTaskResult

from zarbek.service.common.problems import NotFound
from zarbek.service.publishing.models import Run


def get_run(run_id: int) -> Run:
    run = Run.objects.filter(pk=run_id).defer("report").first()
    if run is None:
        raise NotFound(f"There is no run {run_id}.")
    return run


def waiting_runs() -> int:
    """Publish runs that nobody has taken up yet."""
    return Run.objects.filter(state="queued").count()


def queue_lengths() -> dict[tuple[str, ...], float]:
    """Jobs by queue and state, ready or running."""
    rows = DBTaskResult.objects.filter(status__in=("READY", "RUNNING")).order_by()
    counted = rows.values_list("queue_name", "status").annotate(jobs=Count("pk"))
    return {(queue, status.lower()): jobs for queue, status, jobs in counted}
