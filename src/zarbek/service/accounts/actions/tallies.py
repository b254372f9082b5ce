"""How often somebody did something."""

from __future__ import annotations

from datetime import datetime, timedelta

from django.db import IntegrityError
from django.db.models import F
from django.utils import timezone

from zarbek.service.accounts.models import Tally


def add_to_tally(key: str, span_s: float) -> tuple[int, datetime]:
    """Count one more under a key, for all processes together: (how many since the span began, when it ends)."""
    now = timezone.now()
    running = Tally.objects.filter(key=key, until__gt=now)
    if not running.update(count=F("count") + 1):
        until = now + timedelta(seconds=span_s)
        if Tally.objects.filter(key=key).update(count=1, until=until):
            return 1, until
        try:
            Tally.objects.create(key=key, count=1, until=until)
            return 1, until
        except IntegrityError:  # Another process was first.
            running.update(count=F("count") + 1)
    tally = running.values_list("count", "until").first()
    return tally if tally is not None else (1, now)


def forget_tallies() -> None:
    """Counts whose span of time is over."""
    Tally.objects.filter(until__lt=timezone.now()).delete()
