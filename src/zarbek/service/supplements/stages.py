"""What a publish of a project means for what people wrote of it."""

from __future__ import annotations

from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.supplements.actions.writing import renew_written


def register() -> None:
    """Register the stage in which what is written follows the editions of its project."""
    register_stage(55, "follow", follow)


def follow(publish: Publish) -> None:
    """Elements may have other flags in this release than they had: then the same is written for other readers."""
    if publish.run.is_dry:
        return
    run = renew_written(publish.stored.project)
    if run is not None:
        publish.progress.log(f"What is written of it is for other readers now: run {run.pk} brings it to them.")
