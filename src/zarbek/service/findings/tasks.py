"""The job of the queue that judges again what referred to something removed."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.findings.actions.judging import judge_without


@task(queue_name="chores")
def judge_dependents(slug: str, version: str) -> None:
    """Judge anew what refers to a release that is gone."""
    judge_without(slug, version)


def on_gone(slug: str, version: str, **_: object) -> None:
    """References to what was removed mean something else now, or dangle."""
    judge_dependents.enqueue(slug, version)
