"""What a publish makes ready for readers."""

from __future__ import annotations

from django.conf import settings
from django.db.models import Q

from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import get_contents
from zarbek.service.publishing.pipeline import Publish, register_stage
from zarbek.service.reference.actions.keep_tested import keep_tested


def register() -> None:
    """Register the stage in which it is read what tests show."""
    register_stage(65, "examples", read_tested)


def read_tested(publish: Publish) -> None:
    """Nobody who reads what is tested of a release, or of one whose links the publish has changed, waits until all of
    its tests have been read."""
    if publish.run.is_dry or settings.PREVIEW:
        return
    renewed = Q(project__slug__in=publish.renewed, is_judged=True)
    for release in Release.objects.filter(renewed | Q(pk=publish.stored.pk)).select_related("project"):
        if get_contents(release.pk).verdicts:
            keep_tested(release)
