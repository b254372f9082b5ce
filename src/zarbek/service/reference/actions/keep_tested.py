"""Keeping what the tests of a release show."""

from __future__ import annotations

from zarbek.service.catalog.models import Release
from zarbek.service.reference.own_tested import read_own_tested


def keep_tested(release: Release) -> None:
    """Have the release keep what its tests show of it, so that no reader waits for that."""
    if document := read_own_tested(release):
        Release.objects.filter(pk=release.pk).update(tested=document)
