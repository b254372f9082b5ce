"""Jobs of the queue."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.publishing.actions import execute


@task()
def execute_run(run_id: int, attempt: int) -> None:
    execute(run_id, attempt)
