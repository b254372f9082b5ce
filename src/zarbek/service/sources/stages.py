"""What comes before a run's bundle is received, where the portal gathers it itself."""

from __future__ import annotations

from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.sources.gathering import gather_origin


def register() -> None:
    register_stage(5, "receive", gather)


def gather(publish: Publish) -> None:
    if publish.run.origin and not publish.run.bundle:
        gather_origin(publish.run, publish.progress)
