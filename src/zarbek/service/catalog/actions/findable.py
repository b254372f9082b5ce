"""Which releases search finds, told to every machine that has an index."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.db.models import Q
from django.utils import timezone

from zarbek.service.catalog.models import Project, Release, SearchChange
from zarbek.service.catalog.queries import LATEST

#: A machine that has slept for longer builds its index anew.
KEPT_FOR = timedelta(days=14)


def set_findable(releases: Iterable[int], *, is_findable: bool) -> int:
    """Say of releases, by id, whether search finds them; the id of the last change that makes, 0 for none."""
    changed = list(
        Release.objects.filter(pk__in=list(releases)).exclude(is_findable=is_findable).values_list("pk", flat=True)
    )
    Release.objects.filter(pk__in=changed).update(is_findable=is_findable)
    return note_search_changes(changed)


def note_search_changes(releases: Iterable[int]) -> int:
    """Of releases that are gone, too; the id of the last change."""
    made = [SearchChange.objects.create(release=pk) for pk in sorted(releases)]
    return made[-1].pk if made else 0


def find_what_counts(project: Project) -> None:
    """Of the releases that readers see, search finds previews, the latest, and those that are judged."""
    live = project.releases.filter(is_live=True)
    wanted = Q(is_judged=True) | Q(is_preview=True) | Q(aliases__name=LATEST)
    counts = set(live.filter(wanted).values_list("pk", flat=True))
    set_findable(counts, is_findable=True)
    set_findable(live.exclude(pk__in=counts).values_list("pk", flat=True), is_findable=False)


def forget_old_search_changes() -> None:
    """Every machine has followed those long ago."""
    SearchChange.objects.filter(made_at__lt=timezone.now() - KEPT_FOR).delete()
