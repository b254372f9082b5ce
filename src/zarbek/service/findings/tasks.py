"""Jobs of the queue that look outside of the portal."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.findings.actions import judge_without
from zarbek.service.findings.watching import poll_services, poll_source


@task(queue_name="outside")
def poll(source_id: int) -> None:
    poll_source(source_id)


@task(queue_name="outside")
def poll_running(project_id: int) -> None:
    poll_services(project_id)


@task(queue_name="chores")
def judge_dependents(slug: str, version: str) -> None:
    judge_without(slug, version)


def on_gone(slug: str, version: str, **_: object) -> None:
    """References to what was removed mean something else now, or dangle."""
    judge_dependents.enqueue(slug, version)
