"""Jobs of the queue that see to the search index."""

from __future__ import annotations

import time
from collections.abc import Callable

from django_tasks import TaskResultStatus, task

from zarbek.service.catalog.models import Release
from zarbek.service.search.actions import complete_index, index_release, silent
from zarbek.service.search.engine import get_index

_LOOK_EVERY_S = 0.1


@task(queue_name="chores")
def complete() -> None:
    """Index what an interrupted publish left out."""
    complete_index()


@task(queue_name="chores")
def index_ahead(release_id: int) -> int:
    """Index a release that is stored, while its run goes on; how many documents, 0 where that is done already."""
    release = Release.objects.filter(pk=release_id).select_related("project").first()
    if release is None or get_index().release_ids([release_id]):
        return 0
    return index_release(release, progress=silent)


def wait_for_index(job: str, meanwhile: Callable[[], None]) -> int | None:
    """How many documents a job of ``index_ahead`` wrote, once it is done; None where nobody has begun it, or it
    failed. meanwhile: called while waiting."""
    while (result := index_ahead.get_result(job)).status == TaskResultStatus.RUNNING:
        meanwhile()
        time.sleep(_LOOK_EVERY_S)
    return result.return_value if result.status == TaskResultStatus.SUCCESSFUL else None
