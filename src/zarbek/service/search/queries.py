"""Searching for people and programs."""

from __future__ import annotations

from django.db.models import Q

from zarbek.core.searching.engine_port import Hit
from zarbek.core.searching.query import Query
from zarbek.core.searching.ranking import rank
from zarbek.service.catalog.models import Alias, Release
from zarbek.service.catalog.queries import LATEST, get_release
from zarbek.service.common.metrics import SEARCH_SECONDS
from zarbek.service.common.problems import Unavailable
from zarbek.service.search.engine import IndexUnavailable, get_index


def search(query: Query, limit: int) -> list[tuple[Hit, str]]:
    """The best hits with the version of each, best first; newest releases unless the query
    names a version. Raises NotFound for an unknown project or version."""
    if query.version:
        release = get_release(query.project, query.version)
        versions = {release.pk: release.version}
    else:
        rows = Alias.objects.filter(name=LATEST)
        versions = dict(rows.values_list("release_id", "release__version"))
        previews = Release.objects.filter(Q(is_preview=True) & Q(is_live=True) & ~Q(project__aliases__name=LATEST))
        versions.update(previews.values_list("pk", "version"))
    try:
        with SEARCH_SECONDS.time():
            found = get_index().search(query, versions.keys(), limit)
    except IndexUnavailable as error:
        raise Unavailable("Nothing can be searched for now: the index is built anew. Try again in a minute.") from error
    hits = rank(query, found)
    return [(hit, versions[hit.document.release]) for hit in hits[:limit]]
