"""Keeping what linking found, while nothing that it rests on has changed."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import AbstractContextManager
from typing import TypeVar

from django.db.transaction import atomic

from zarbek.core.linking.dependency_trace import NOBODY
from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.actions.portal_changes import lock_portal
from zarbek.service.catalog.actions.projects import lock_project
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.deadlocks import retried_on_deadlock
from zarbek.service.content.queries import get_manifest
from zarbek.service.links.actions.link_texts import Linked, NewLinks, link_release, relink_texts
from zarbek.service.links.documents import Text
from zarbek.service.links.models import Dependence, waited_for
from zarbek.service.links.queries import are_kept, list_concerning
from zarbek.service.links.resolution_context import dependency_on
from zarbek.service.publishing.actions.cache_epoch import renew_pages

T = TypeVar("T")
Fence = Callable[[], AbstractContextManager[None]]
#: What linking keeps of a release.
KEPT = ("links", "choices", "first_choices", "text_history", "declaration_history", "health", "edges",
        "link_revision")  # fmt: skip
#: So often it is tried with nobody waiting; then others wait.
ROUNDS = 4


class Outdated(Exception):
    """What linking rested on has changed meanwhile: link again."""


def link_and_keep(
    release: Release, texts: set[Text] | None, *, then: Callable[[Linked], T], fence: Fence = atomic,
    progress: Callable[[int, int], None],
) -> T | None:  # fmt: skip
    """Link texts of a release, None for all, and keep the links; None for a release that is gone.

    then: what else comes of it, in the same transaction. fence: a transaction, which an attempt at a run that another
    has taken over cannot begin.
    """

    def link() -> NewLinks | None:
        if not _read_again(release):
            return None
        return link_release(release, progress=progress) if texts is None else relink_texts(release, texts)

    try:
        for _ in range(ROUNDS):
            new = link()
            try:
                return _keep(new, then, fence) if new is not None else None
            except Outdated:
                continue
        return _link_alone(release, link, then, fence)
    finally:
        renew_pages([release.project.slug])


@retried_on_deadlock
def _keep(new: NewLinks, then: Callable[[Linked], T], fence: Fence) -> T | None:
    with fence():
        return _keep_within(new, then)


@retried_on_deadlock
def _link_alone(
    release: Release, link: Callable[[], NewLinks | None], then: Callable[[Linked], T], fence: Fence
) -> T | None:
    """Nothing changes until this is done."""
    with fence():
        lock_release(release)
        lock_portal()
        new = link()
        return _keep_within(new, then) if new is not None else None


def _read_again(release: Release) -> bool:
    """The release with its links as they are now; whether it is still there."""
    if not Release.objects.filter(pk=release.pk).exists():
        return False
    release.refresh_from_db(fields=["version", "linked_at", *KEPT])
    return True


def _keep_within(new: NewLinks, then: Callable[[Linked], T]) -> T | None:
    if not lock_release(new.release):
        return None
    if Release.objects.values_list("link_revision", flat=True).get(pk=new.release.pk) != new.revision:
        raise Outdated
    if not are_kept(new.documents):
        raise Outdated  # They were of nobody, and swept away before this release had them.
    _write(new)
    kept = then(new.linked)
    new.release.linked_at = lock_portal()
    if list_concerning(new.release, new.since):
        raise Outdated
    new.release.save(update_fields=["linked_at"])
    return kept


def lock_release(release: Release) -> bool:
    """Until the end of the transaction nobody else changes what is kept of a release and its project; whether it is
    still there. Projects before releases, always: whoever locks both waits for nobody who waits for him."""
    lock_project(release.project_id)
    return Release.objects.select_for_update().filter(pk=release.pk).values_list("pk", flat=True).first() is not None


def _write(new: NewLinks) -> None:
    release = new.release
    _keep_dependences(new)
    tally = new.linked.tally
    release.links, release.health, release.edges = new.links, tally.to_health(), tally.to_edges(release.project.slug)
    release.link_revision = new.revision + 1
    release.save(update_fields=KEPT)


def _keep_dependences(new: NewLinks) -> None:
    release = new.release
    known = dict(release.dependences.values_list("project", "version"))
    projects = new.projects | _declared(get_manifest(release.pk), list(new.portal.projects.values()))
    names = projects if new.is_whole else projects | known.keys()
    choices = {n: "" if n.startswith(NOBODY) else new.portal.choice_of(n) for n in sorted(names)}
    if new.is_whole:
        release.dependences.filter(project__in=known.keys() - names).delete()
    for name, version in choices.items():
        if name in known and known[name] != version:
            release.dependences.filter(project=name).update(version=version)
    Dependence.objects.bulk_create(
        [Dependence(release=release, project=n, version=v) for n, v in choices.items() if n not in known],
        batch_size=500,
    )
    release.choices = {n: v for n, v in choices.items() if v}
    if release.first_choices is None:
        release.first_choices = release.choices


def _declared(manifest: Manifest, projects: list[Project]) -> set[str]:
    """Slugs of declared dependencies, and the package URLs of those that no project of the portal has."""
    known_purls = {p.purl for p in projects}
    unknown = {waited_for(d.purl) for d in manifest.dependencies if d.range and d.purl not in known_purls}
    return unknown | {p.slug for p in projects if dependency_on(manifest, p) is not None}


@retried_on_deadlock
def keep_choice(release: Release, project: str, choose: Callable[[], str]) -> None:
    """Which release of a project the names of another one mean, as it is now: choose says so."""
    with atomic():
        if not lock_release(release):
            return
        version = choose()
        release.dependences.filter(project=project).exclude(version=version).update(version=version)
        choices = Release.objects.values_list("choices", flat=True).get(pk=release.pk)
        if choices.get(project, "") != version:
            Release.objects.filter(pk=release.pk).update(choices={**choices, project: version})
