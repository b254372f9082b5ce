"""Finding repositories and databases."""

from __future__ import annotations

from django.db.models import F

from zarbek.service.catalog.models import Project
from zarbek.service.common.problems import NotFound
from zarbek.service.sources.models import Database, Source


def list_ahead() -> list[Source]:
    """Sources that were looked at and have something unpublished."""
    rows = Source.objects.exclude(polled_at=None).select_related("project").order_by(F("project__slug"))
    return [s for s in rows if s.ahead.get("tags") or s.ahead.get("commits")]


def find_source(source_id: int) -> Source | None:
    """A repository with its project; None where there is none of that number."""
    return Source.objects.select_related("project").filter(pk=source_id).first()


def get_source(source_id: int) -> Source:
    """The same. Raises NotFound."""
    source = find_source(source_id)
    if source is None:
        raise NotFound("There is no such source.")
    return source


def get_database(project: Project) -> Database:
    """The database that a project is gathered with. Raises NotFound."""
    found = Database.objects.select_related("project").filter(project=project).first()
    if found is None:
        raise NotFound(f"{project.slug} is gathered with no database.")
    return found
