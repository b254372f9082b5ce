"""Searching for people and programs."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.db.models import Q
from django.utils import timezone

from zarbek.core.editions.visibility import edition_mark
from zarbek.core.searching.engine_port import Hit
from zarbek.core.searching.query import Query
from zarbek.core.searching.ranking import rank
from zarbek.service.catalog.models import Alias, Release, SearchChange
from zarbek.service.catalog.queries import LATEST, get_release
from zarbek.service.common.metrics import SEARCH_SECONDS
from zarbek.service.common.problems import NotFound, Unavailable
from zarbek.service.content.editions import edition_name_of
from zarbek.service.content.queries import get_manifest
from zarbek.service.search.engine import IndexUnavailable, get_index


def search(query: Query, limit: int) -> list[tuple[Hit, str]]:
    """The best hits with the version of each, best first; newest releases unless the query
    names a version. Raises NotFound for an unknown project or version."""
    if query.version:
        release = get_release(query.project, query.version)
        if not release.is_findable:
            raise NotFound(
                f"{query.project} {release.version} is superseded, and search finds it no more. Look in the latest."
            )
        versions = {release.pk: release.version}
    else:
        rows = Alias.objects.filter(name=LATEST)
        versions = dict(rows.values_list("release_id", "release__version"))
        previews = Release.objects.filter(Q(is_preview=True) & Q(is_live=True) & ~Q(project__aliases__name=LATEST))
        versions.update(previews.values_list("pk", "version"))
    try:
        with SEARCH_SECONDS.time():
            found = get_index().search(query, versions.keys(), limit, limits=_limits(versions))
    except IndexUnavailable as error:
        raise Unavailable("Nothing can be searched for now: the index is built anew. Try again in a minute.") from error
    hits = _once(rank(query, found))
    return [(hit, versions[hit.document.release]) for hit in hits[:limit]]


def _once(hits: Iterable[Hit]) -> list[Hit]:
    """Each element once, for those who read what several editions have of it."""
    found: dict[tuple[int, str, str], Hit] = {}
    for hit in hits:
        found.setdefault((hit.document.release, hit.document.path, hit.document.anchor), hit)
    return list(found.values())


def _limits(releases: Iterable[int]) -> dict[int, str]:
    """Releases of which the asker reads an edition to the mark of what is in it."""
    names = {pk: edition_name_of(get_manifest(pk)) for pk in _with_editions() & set(releases)}
    return {pk: edition_mark(name) for pk, name in names.items() if name}


def _with_editions() -> set[int]:
    """Ids of the releases that have editions."""
    return set(Release.objects.filter(has_editions=True, is_findable=True).values_list("pk", flat=True))


def newest_change() -> int:
    """The id of the last change of what search finds; 0 before the first."""
    return SearchChange.objects.order_by("-pk").values_list("pk", flat=True).first() or 0


def list_lacking() -> list[int] | None:
    """Releases that search is to find and that this machine's index has not got; None where it cannot be read."""
    findable = list(Release.objects.filter(is_findable=True).values_list("pk", flat=True))
    try:
        known = get_index().release_ids(findable)
    except IndexUnavailable:
        return None
    return [pk for pk in findable if pk not in known]


def is_behind(longer_than_s: float) -> bool:
    """Whether a change waits for this machine's index for longer than so many seconds."""
    position = get_index().position()
    if position is None:
        return False
    before = timezone.now() - timedelta(seconds=longer_than_s)
    return SearchChange.objects.filter(pk__gt=position, made_at__lt=before).exists()
