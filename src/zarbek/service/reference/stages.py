"""What a publish makes ready for readers."""

from __future__ import annotations

from django.conf import settings

from zarbek.service.content.queries import get_contents
from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.reference.own_tested import get_own_tested


def register() -> None:
    """Register the stage in which it is read what tests show."""
    register_stage(57, "examples", read_tested)


def read_tested(publish: Publish) -> None:
    """Nobody who reads what is tested waits until all tests of a release have been read."""
    if not publish.run.is_dry and not settings.PREVIEW and get_contents(publish.stored.pk).verdicts:
        get_own_tested(publish.stored)
