"""Finding runs."""

from __future__ import annotations

from django.db.models import Count, QuerySet
from django_tasks_db.models import DBTaskResult

from zarbek.service.common.problems import NotFound
from zarbek.service.publishing.models import Run


def get_run(run_id: int) -> Run:
    """A run without its report. Raises NotFound."""
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


def get_run_with_report(run_id: int) -> Run:
    """A run and what it found. Raises NotFound where it found nothing yet, too."""
    run = Run.objects.filter(pk=run_id).first()
    if run is None or not run.report:
        raise NotFound(f"Run {run_id} has no report" + (f"; it is {run.state}." if run else "."))
    return run


def get_reported_run(slug: str, version: str) -> Run:
    """The run that published a release, the last one of a preview. Raises NotFound where nothing is kept of it."""
    run = Run.objects.filter(project=slug, version=version, state="done", is_dry=False).order_by("-pk").first()
    if run is None or not run.report:
        raise NotFound(f"{slug} {version} has no report.")
    return run


def list_runs(project: str = "", state: str = "") -> QuerySet[Run]:
    """Runs without their reports, newest first: all, or those of a project, in a state."""
    rows = Run.objects.defer("report")
    for field, value in (("project", project), ("state", state)):
        if value:
            rows = rows.filter(**{field: value})
    return rows
