"""After a report the addresses of its release are asked for, and all again from time to time."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.utils import timezone

from zarbek.service.addresses.models import UrlCheck
from zarbek.service.addresses.tasks import check_urls_of
from zarbek.service.common.chores import register_chore
from zarbek.service.links.affected import list_judged
from zarbek.service.publishing.pipeline import Publish, register_stage


def register() -> None:
    """Register the stage that asks a release's addresses, and the chore that asks them again."""
    register_stage(62, "addresses", addresses)
    register_chore("addresses", 3600, check_again)


def addresses(publish: Publish) -> None:
    """Have the addresses of a release that is judged asked, once it is live."""
    release = publish.stored
    release.refresh_from_db(fields=["is_judged"])
    if not publish.run.is_dry and release.is_judged and not release.is_preview:
        with publish.progress.fenced():
            check_urls_of.enqueue(release.pk)


def check_again() -> None:
    """Put every judged release whose addresses are due into the queue."""
    due = timezone.now() - timedelta(seconds=settings.URL_AGAIN_S)
    if UrlCheck.objects.filter(checked_at__lt=due).exists():
        for release in list_judged():
            check_urls_of.enqueue(release.pk)
