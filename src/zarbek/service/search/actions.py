"""Keeping a machine's index in step with what search is to find. It is derived: it is built from the database where it
is lost or damaged."""

from __future__ import annotations

import logging
import socket
from collections.abc import Iterator

import msgspec
from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist
from django.utils import timezone

from zarbek.core.searching.engine_port import Document
from zarbek.service.catalog.models import Release, SearchChange
from zarbek.service.search.documents import documents_of
from zarbek.service.search.engine import IndexUnavailable, get_index
from zarbek.service.search.models import SearchNode
from zarbek.service.search.queries import list_lacking, newest_change

logger = logging.getLogger(__name__)
#: Changes that are followed before it is said how far, and that are looked over again.
STEP, LOOKED_OVER = 50, 1_000


class Follower:
    """Follows the changes for this machine. What one transaction notes early and keeps late has a smaller number than
    what was followed already: the last changes are looked over again."""

    def __init__(self) -> None:
        self._followed: set[int] = set()

    def follow(self) -> int:
        """Follow the changes that there are now, or build the index where it cannot be; how many releases that was."""
        index = get_index()
        position = index.position()
        try:
            index.count()
        except IndexUnavailable as error:
            logger.warning("the search index is built anew: %s", error)
            position = None
        oldest = SearchChange.objects.order_by("pk").values_list("pk", flat=True).first()
        if position is None or (oldest is not None and position < oldest - 1):
            rebuild_index()
            self._followed.clear()
            return Release.objects.filter(is_findable=True).count()
        recent = SearchChange.objects.filter(pk__gt=position - LOOKED_OVER).order_by("pk")
        changes = [c for c in recent if c.pk not in self._followed][:STEP]
        for pk in dict.fromkeys(change.release for change in changes):
            _follow(pk)
        if changes:
            index.set_position(max(position, changes[-1].pk))
            self._followed |= {change.pk for change in changes}
            self._followed = {pk for pk in self._followed if pk > position - LOOKED_OVER}
            note_node()
        return len(changes)


def _follow(release_id: int) -> None:
    release = Release.objects.filter(pk=release_id, is_findable=True).select_related("project").first()
    is_known = bool(get_index().release_ids([release_id]))
    if release is None and is_known:
        get_index().remove([release_id])
    elif release is not None and not is_known:  # What a release holds never changes.
        get_index().replace(release_id, _documents(release))


def _documents(release: Release) -> Iterator[Document]:
    """One release that is damaged, or goes at this moment, keeps no other from being found."""
    try:
        yield from documents_of(release)
    except (ObjectDoesNotExist, msgspec.DecodeError):
        logger.exception("release %s cannot be read for search", release.pk)


def rebuild_index() -> int:
    """Build the index anew of every release that search is to find, from any state; how many documents."""
    position = newest_change()
    rows = Release.objects.filter(is_findable=True).select_related("project").order_by("pk")
    count = get_index().rebuild(
        ((release.pk, _documents(release)) for release in rows.iterator(chunk_size=20)), position
    )  # fmt: skip
    note_node()
    return count


def mend_index() -> None:
    """Releases that search is to find and that the index has not got, whatever became of them."""
    for release in Release.objects.filter(pk__in=list_lacking() or ()).select_related("project"):
        get_index().replace(release.pk, _documents(release))


def note_node() -> None:
    """Say how far this machine has followed."""
    facts = {"position": get_index().position() or 0, "seen_at": timezone.now()}
    SearchNode.objects.update_or_create(name=f"{socket.gethostname()} {settings.SEARCH_INDEX}"[:200], defaults=facts)
