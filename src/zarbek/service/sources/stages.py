"""What comes before a run's bundle is received, where the portal gathers it itself."""

from __future__ import annotations

from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.sources.gathering import gather_origin


def register() -> None:
    """Register the stage that gathers what was not uploaded."""
    register_stage(5, "receive", gather)


def gather(publish: Publish) -> None:
    """Gather a run's bundle, where it has none yet."""
    if publish.run.origin and not publish.run.bundle:
        gather_origin(publish.run, publish.progress)
