"""What makes names mean something else, in the order in which it happened.

Linking rests on the portal as it was when it began. What it found is kept only while no change that concerns it
has come since, under the same lock under which changes are noted: so either the change is known to who keeps, or
what is kept is known to who follows the change up.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.utils import timezone

from zarbek.service.catalog.models import PortalChange, PortalState

#: Changes are remembered for so long: no linking takes longer.
KEPT_FOR = timedelta(days=30)


def lock_portal() -> int:
    """Until the end of the transaction no change is noted; the number of the last one. Take it last: others wait."""
    return PortalState.objects.select_for_update().get(pk=1).number


def note_change(
    cause: str, *, project: str = "", release: int | None = None, namespaces: Iterable[str] = (), run: int = 0
) -> PortalChange:
    """In the transaction of the change itself, near its end."""
    number = lock_portal() + 1
    PortalState.objects.filter(pk=1).update(number=number)
    return PortalChange.objects.create(
        number=number, project=project, release=release, namespaces=sorted(namespaces), cause=cause[:210], run=run
    )


def settle(change: PortalChange) -> None:
    """Say that everything it touches was linked again."""
    PortalChange.objects.filter(pk=change.pk).update(settled_at=timezone.now())


def forget_old_changes() -> None:
    """Changes that were followed up long ago are of no more use."""
    PortalChange.objects.filter(settled_at__lt=timezone.now() - KEPT_FOR).delete()
