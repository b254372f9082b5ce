"""Which repositories this portal may ask."""

from __future__ import annotations

from django.conf import settings

from zarbek.core.material.git_repository import Remote, reach


def reach_repository(address: str) -> Remote:
    """A repository that the settings allow. Raises GitRefused for any other."""
    return reach(address, settings.LOCAL_SOURCES, allowed=settings.PRIVATE_GIT_HOSTS)
