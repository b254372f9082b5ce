"""Chores, each done by one worker when it is due."""

from __future__ import annotations

import logging
from datetime import timedelta

from django.utils import timezone

from zarbek.service.common.chores import Chore, list_chores
from zarbek.service.publishing.models import ScheduledChore

logger = logging.getLogger(__name__)


def run_due_chores() -> int:
    """How many were due. One that fails is told in the log and due again at its next turn."""
    due = [chore for chore in list_chores() if _take_turn(chore)]
    for chore in due:
        try:
            chore.run()
        except Exception:  # The outer edge of a chore: the others must have their turns.
            logger.exception("chore %s failed", chore.name)
    return len(due)


def _take_turn(chore: Chore) -> bool:
    now = timezone.now()
    following = now + timedelta(seconds=chore.every_s)
    if ScheduledChore.objects.filter(name=chore.name, due_at__lte=now).update(due_at=following):
        return True
    _, made = ScheduledChore.objects.get_or_create(name=chore.name, defaults={"due_at": following})
    return made
