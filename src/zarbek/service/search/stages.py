"""The index stage of a run."""

from __future__ import annotations

from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.search.actions import index_release


def register() -> None:
    register_stage(40, "index", index)


def index(publish: Publish) -> None:
    if publish.run.is_dry:
        return
    count = index_release(publish.stored, progress=publish.progress.count)
    publish.progress.log(f"Indexed {count} documents for search.")
