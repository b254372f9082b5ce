"""Chores, each done by one process of all when it is due."""

from __future__ import annotations

import logging
from datetime import timedelta

from django.conf import settings
from django.utils import timezone

from zarbek.service.common.chores import Chore, list_chores
from zarbek.service.publishing.models import ScheduledChore

logger = logging.getLogger(__name__)


def run_due_chores() -> int:
    """How many were due. One that fails is told in the log and due again at its next turn."""
    due = 0
    for chore in list_chores():
        if not _take_turn(chore):
            continue
        due += 1
        try:
            chore.run()
        except Exception:  # The outer edge of a chore: the others must have their turns.
            logger.exception("chore %s failed", chore.name)
        ScheduledChore.objects.filter(name=chore.name, worker=settings.WORKER_ID).update(started_at=None)
    return due


def is_at_overdue_chore(worker: str) -> bool:
    """Whether a process is at a chore for longer than one may take."""
    limit = timezone.now() - timedelta(seconds=settings.JOB_LIMIT_S)
    return ScheduledChore.objects.filter(worker=worker, started_at__lt=limit).exists()


def _take_turn(chore: Chore) -> bool:
    now = timezone.now()
    turn = {"due_at": now + timedelta(seconds=chore.every_s), "started_at": now, "worker": settings.WORKER_ID}
    if ScheduledChore.objects.filter(name=chore.name, due_at__lte=now).update(**turn):
        return True
    _, made = ScheduledChore.objects.get_or_create(name=chore.name, defaults=turn)
    return made
