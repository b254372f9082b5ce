"""The index stage of a run, and the chore that mends the index."""

from __future__ import annotations

from zarbek.service.common.chores import register_chore
from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.search.actions import index_release, list_missing
from zarbek.service.search.engine import IndexUnavailable
from zarbek.service.search.tasks import mend


def register() -> None:
    register_stage(40, "index", index)
    register_chore("index", 20, _mend)


def index(publish: Publish) -> None:
    """An index that cannot be written holds no release back: it is mended, and has it then."""
    if publish.run.is_dry:
        return
    try:
        count = index_release(publish.stored, progress=publish.progress.count)
    except IndexUnavailable as error:
        publish.progress.log(f"The search index cannot be written now ({error}); it is found there later.", "warning")
        return
    publish.progress.log(f"Indexed {count} documents for search.")


def _mend() -> None:
    if list_missing() != []:
        mend.enqueue()
