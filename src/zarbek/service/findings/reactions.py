"""What becomes of findings when a release's standing changes without a publish."""

from __future__ import annotations

from zarbek.service.catalog.models import Release
from zarbek.service.findings.actions.judging import close_line
from zarbek.service.publishing.actions.cache_epoch import renew_pages


def on_judging_ended(release: Release, **_: object) -> None:
    """A line that is no longer judged has no findings that stand."""
    close_line(release)
    renew_pages([release.project.slug])
