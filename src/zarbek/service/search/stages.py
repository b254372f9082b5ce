"""The index stage of a run, and the chore that mends the index."""

from __future__ import annotations

from zarbek.service.common.chores import register_chore
from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.search.actions import index_release, list_missing
from zarbek.service.search.engine import IndexUnavailable
from zarbek.service.search.tasks import complete, index_ahead, wait_for_index

#: Symbols of a release that is worth the work of a second process.
WORTH_ANOTHER = 2_000


def register() -> None:
    """Register the stages that index a release, and the chore that completes the index."""
    register_stage(25, "store", begin)
    register_stage(40, "index", index)
    register_chore("index", 20, _complete)


def begin(publish: Publish) -> None:
    """Let another process index a large release while this one links it."""
    if not publish.run.is_dry and publish.stored.counts.get("symbols", 0) >= WORTH_ANOTHER:
        publish.jobs["index"] = str(index_ahead.enqueue(publish.stored.pk).id)


def index(publish: Publish) -> None:
    """An index that cannot be written holds no release back: it is mended, and has it then."""
    if publish.run.is_dry:
        return
    job = publish.jobs.pop("index", "")
    try:
        count = wait_for_index(job, publish.progress.check) if job else None
        if not count:
            count = index_release(publish.stored, progress=publish.progress.count)
    except IndexUnavailable as error:
        publish.progress.log(f"The search index cannot be written now ({error}); it is found there later.", "warning")
        return
    publish.progress.log(f"Indexed {count} documents for search.")


def _complete() -> None:
    if list_missing() != []:
        complete.enqueue()
