"""Finding runs."""

from __future__ import annotations

from zarbek.service.common.problems import NotFound
from zarbek.service.publishing.models import Run


def get_run(run_id: int) -> Run:
    run = Run.objects.filter(pk=run_id).defer("report").first()
    if run is None:
        raise NotFound(f"There is no run {run_id}.")
    return run
