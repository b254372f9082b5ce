"""Which repositories and services are due to be looked at."""

from __future__ import annotations

from datetime import timedelta

from django.utils import timezone

from zarbek.service.sources.actions import note_asking, note_poll
from zarbek.service.sources.models import RunningService, Source
from zarbek.service.sources.tasks import poll, poll_running


def poll_due_sources() -> None:
    """Put sources whose time has come into the queue."""
    now = timezone.now()
    for source in Source.objects.filter(poll_minutes__gt=0):
        if source.polled_at is None or source.polled_at <= now - timedelta(minutes=source.poll_minutes):
            note_poll(source)
            poll.enqueue(source.pk)


def poll_due_services() -> None:
    """Put projects with a service whose time has come into the queue."""
    now = timezone.now()
    due = [
        s for s in RunningService.objects.filter(poll_minutes__gt=0)
        if s.asked_at is None or s.asked_at <= now - timedelta(minutes=s.poll_minutes)
    ]  # fmt: skip
    for project_id in sorted({s.project_id for s in due}):
        note_asking(project_id)
        poll_running.enqueue(project_id)
