"""Jobs of the queue that follow up what changed in the portal without a publish, or whose publish died of it."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone
from django_tasks import task

from zarbek.service.catalog.models import PortalChange
from zarbek.service.findings.actions.judging import follow_change
from zarbek.service.findings.actions.patching import make_patch
from zarbek.service.findings.actions.waivers import cover_again
from zarbek.service.findings.claims import keep_claims_about
from zarbek.service.findings.queries import list_unfollowed
from zarbek.service.publishing.actions.cache_epoch import renew_pages

#: Whoever follows a change has begun by then.
_OVERDUE = timedelta(minutes=5)


@task()
def follow(number: int) -> None:
    """Link again what a change touches, unless that is done."""
    change = PortalChange.objects.filter(number=number, settled_at=None).first()
    if change is None:
        return
    follow_change(change)
    keep_claims_about(change)
    renew_pages()


@task(queue_name="chores")
def cover() -> None:
    """A waiver of the whole portal was made, or has ended: which covers which finding now."""
    cover_again(None)
    renew_pages()


@task(queue_name="outside")
def patch(number: int) -> None:
    """Make a patch that somebody has asked for."""
    make_patch(number)


def on_changed(change: PortalChange, **_: object) -> None:
    """References to what changed mean something else now, or dangle."""
    follow.enqueue(change.number)


def follow_overdue() -> None:
    """Follow up changes whose run was given up once they were made, or whose job was lost."""
    for change in list_unfollowed(timezone.now() - _OVERDUE):
        follow.enqueue(change.number)
