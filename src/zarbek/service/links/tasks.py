"""The job of the queue that sweeps."""

from __future__ import annotations

import time

from django_tasks import task

from zarbek.service.links.actions.sweeping import sweep_next

#: For so long a job sweeps one project after the other.
BUDGET_S = 60.0


@task(queue_name="chores")
def sweep() -> None:
    """Remove what nothing holds any more, for a while."""
    until = time.monotonic() + BUDGET_S
    while time.monotonic() < until and sweep_next():
        pass


def begin_sweep() -> None:
    """Put it into the queue."""
    sweep.enqueue()
