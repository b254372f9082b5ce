"""Which projects an asker may read: the one place that decides it. Every query of what belongs to a project goes
through the managers here, so that what is kept from the asker is not there for it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.apps import apps
from django.conf import settings
from django.db import models
from django.db.models import Q

from zarbek.service.catalog.elsewhere import ELSEWHERE
from zarbek.service.common.asker import APART, Asker, current_asker

#: Begins the slug of a project that is being removed; no project can be called so.
GONE = "~"
#: Who may read a project: all who reach the portal, who is signed in, or the members of its teams.
VISIBILITIES = ("public", "inside", "teams")


@dataclass(frozen=True, slots=True)
class Hidden:
    """Projects that are kept from an asker, by id and by slug."""

    ids: frozenset[int] = frozenset()
    slugs: frozenset[str] = frozenset()


_NOTHING = Hidden()


def hidden_projects() -> Hidden:
    """What is kept from whoever asks now. Cost: a query or two, once a request."""
    asker = current_asker()
    if asker.sees_everything:
        return _NOTHING
    known = asker.remembered.get("hidden")
    if not isinstance(known, Hidden):
        known = asker.remembered["hidden"] = _read_hidden(asker)
    return known


def forget_hidden() -> None:
    """What is visible has changed in this request."""
    current_asker().remembered.pop("hidden", None)


def _read_hidden(asker: Asker) -> Hidden:
    projects = apps.get_model("catalog", "Project").everything
    private = list(projects.exclude(visibility="public").exclude(slug__startswith=GONE).values_list(
        "pk", "slug", "visibility", "companion__pk", "companion__slug"))  # fmt: skip
    asker.remembered[APART] = bool(private)
    if not private:
        return _NOTHING
    allowed = _allowed(asker)
    hidden: list[tuple[int, str]] = []
    for pk, slug, visibility, companion, companion_slug in private:
        if not _may_read(asker, pk, slug, visibility, allowed):
            hidden += [(pk, slug), *([(companion, companion_slug)] if companion else [])]
    return Hidden(frozenset(pk for pk, _ in hidden), frozenset(slug for _, slug in hidden))


def _may_read(asker: Asker, pk: int, slug: str, visibility: str, allowed: set[int | None]) -> bool:
    if (asker.user is None and asker.team is None) or (asker.project and asker.project != slug):
        return False
    return asker.is_administrator or visibility == "inside" or pk in allowed or None in allowed


def _allowed(asker: Asker) -> set[int | None]:
    """Ids of projects in which an asker has a part; None for all."""
    if asker.team is not None:
        members = apps.get_model("catalog", "Membership").objects.filter(team=asker.team)
        return set(members.values_list("project_id", flat=True))
    return set(memberships_of(asker.user).values_list("project_id", flat=True)) if asker.user is not None else set()


def memberships_of(user: int) -> models.QuerySet[Any]:
    """The parts that an account has, by itself or by a team, in any project."""
    memberships = apps.get_model("catalog", "Membership").objects
    return memberships.filter(Q(user=user) | Q(team__users=user))


class ReadableManager(models.Manager[Any]):
    """Rows that belong to a project, without those that are kept from whoever asks."""

    #: Of the project's key, or of its slug where rows know it by that. What a class says holds for what relates to a
    #: row, too: Django makes managers of those by the class alone.
    path = "project_id"
    is_slug = False

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without what is kept from the asker."""
        hidden = hidden_projects()
        rows = super().get_queryset()
        kept = hidden.slugs if self.is_slug else hidden.ids
        return rows.exclude(**{f"{self.path}__in": kept}) if kept else rows


def readable_by(path: str, *, is_slug: bool = False) -> ReadableManager:
    """A manager of rows that come to their project by another path."""
    kind = type("ReadableManager", (ReadableManager,), {"path": path, "is_slug": is_slug})
    manager: ReadableManager = kind()
    return manager


class LivingProjects(ReadableManager):
    """Projects without those that are being removed, whose rows go in steps, and without those that are kept from the
    asker; in a preview without those that are read elsewhere, which only linking knows of."""

    path = "pk"

    def get_queryset(self) -> models.QuerySet[Any]:
        """Without those that are being removed, or kept from the asker."""
        rows = super().get_queryset().exclude(slug__startswith=GONE)
        is_shown = not settings.PREVIEW or current_asker().is_portal
        return rows if is_shown else rows.exclude(visibility=ELSEWHERE)
