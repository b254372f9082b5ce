"""When pages that are kept in memory are to be made anew."""

from __future__ import annotations

from collections.abc import Iterable

from django.db.models import F

from zarbek.service.common.deadlocks import retried_on_deadlock
from zarbek.service.publishing.models import CacheEpoch

_ALL = ("",)


@retried_on_deadlock
def renew_pages(slugs: Iterable[str] = _ALL) -> None:
    """Pages of these projects that are kept in memory are made anew; those of all, if slugs is left out."""
    scopes = sorted(set(slugs))
    if not scopes:
        return
    rows = CacheEpoch.objects.filter(scope__in=scopes)
    known = set(rows.values_list("scope", flat=True))
    missing = [CacheEpoch(scope=scope) for scope in scopes if scope not in known]
    CacheEpoch.objects.bulk_create(missing, ignore_conflicts=True)
    rows.update(number=F("number") + 1)
