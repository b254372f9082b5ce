"""When pages that are kept in memory are to be made anew."""

from __future__ import annotations

from django.db.models import F

from zarbek.service.publishing.models import CacheEpoch


def renew_pages() -> None:
    """Pages that are kept in memory are made anew."""
    if not CacheEpoch.objects.filter(pk=1).update(number=F("number") + 1):
        CacheEpoch.objects.get_or_create(pk=1, defaults={"number": 1})
