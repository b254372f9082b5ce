"""Jobs of the queue that see to the search index."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.search.actions import mend_index


@task(queue_name="chores")
def mend() -> None:
    mend_index()
