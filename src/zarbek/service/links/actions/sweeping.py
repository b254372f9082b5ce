"""Removing what nothing holds any more: contents, blocks, link documents and assets of releases that are gone.

Nothing is locked while it is looked for. What was found is deleted in small steps, each of which makes sure that
nothing of the project has changed since the look began: no release came, went or was linked again, and no run goes,
so nobody can have begun to hold what nobody held.
"""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.db.models import Model, QuerySet
from django.db.transaction import atomic
from django.utils import timezone

from zarbek.service.catalog.actions.projects import lock_project
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.batches import batched
from zarbek.service.common.deadlocks import retried_on_deadlock
from zarbek.service.common.packing import digest_of, unpack
from zarbek.service.content.block_layout import ReleaseContents
from zarbek.service.content.models import Asset, Block, PageContent, SymbolContent
from zarbek.service.content.queries import contents_held_by
from zarbek.service.links.documents import LinkMap
from zarbek.service.links.models import LinkDocument, Sweep
from zarbek.service.publishing.actions.runs import while_nothing_starts
from zarbek.service.publishing.models import GOING, Run

#: Rows a step: with what hangs on each, a fraction of a second.
STEP = 200
#: A project is looked at again after so long, if it has changed.
PAUSE = timedelta(minutes=30)


class Changed(Exception):
    """The project is not as it was when the look began."""


def sweep_next() -> bool:
    """Sweep the project that has waited longest; whether there was one."""
    project = _next_project()
    if project is None:
        return False
    sweep_project(project)
    return True


def _next_project() -> Project | None:
    known = dict(Sweep.objects.values_list("project_id", "swept_at"))
    latest = timezone.now() - PAUSE
    waiting = [p for p in Project.objects.all() if (at := known.get(p.pk)) is None or at < latest]
    return min(waiting, key=lambda p: (known.get(p.pk) is not None, known.get(p.pk) or latest, p.pk), default=None)


def sweep_project(project: Project) -> int:
    """Delete what nothing of a project holds; how many rows. Where the project changes meanwhile, the rest waits for
    the next time."""
    row, _ = Sweep.objects.get_or_create(project=project)
    state = _state_of(project)
    removed, is_clean = 0, state == row.state
    if not is_clean and not Run.objects.filter(project=project.slug, state__in=GOING).exists():
        try:
            removed = _sweep(project, state)
            is_clean = True
        except Changed:
            pass
    row.state, row.swept_at = (state if is_clean else row.state), timezone.now()
    row.save()
    return removed


def _state_of(project: Project) -> str:
    releases = list(Release.objects.filter(project=project).order_by("pk").values_list("pk", "link_revision"))
    last = Run.objects.filter(project=project.slug).order_by("-pk").values_list("pk", "attempt", "state").first()
    return digest_of(repr((releases, last)).encode())


def _sweep(project: Project, state: str) -> int:
    blocks, documents, assets = _held(project)
    symbols, pages = contents_held_by(blocks)
    removed = 0
    for rows, held in (
        (LinkDocument.objects.filter(project=project), documents), (Block.objects.filter(project=project), blocks),
        (SymbolContent.objects.filter(project=project), symbols), (PageContent.objects.filter(project=project), pages),
    ):  # fmt: skip
        lost = sorted(set(rows.values_list("pk", flat=True)) - held)
        removed += _delete(project, state, rows, lost)
    lost_assets = Asset.objects.filter(project=project).exclude(digest__in=assets)
    for asset in lost_assets:
        removed += _delete(project, state, Asset.objects.all(), [asset.pk])
        asset.file.delete(save=False)
    return removed


def _held(project: Project) -> tuple[set[int], set[int], set[str]]:
    """Ids of blocks, ids of link documents, and digests of assets, that any release of a project holds."""
    blocks, documents, assets = set[int](), set[int](), set[str]()
    for contents, links in Release.objects.filter(project=project).values_list("contents", "links").iterator():
        if contents:
            found = unpack(contents, ReleaseContents)
            blocks |= found.blocks
            assets |= set(found.assets.values())
        if links:
            documents |= unpack(links, LinkMap).document_ids()
    return blocks - {0}, documents, assets


def _delete(project: Project, state: str, rows: QuerySet[Model], ids: Iterable[int]) -> int:
    removed = 0
    for batch in batched(ids, STEP):
        _delete_step(project, state, rows, batch)
        removed += len(batch)
    return removed


@retried_on_deadlock
def _delete_step(project: Project, state: str, rows: QuerySet[Model], ids: list[int]) -> None:
    """Raises Changed, having deleted nothing, where the project is not as it was."""
    with atomic(), while_nothing_starts(project.slug):
        lock_project(project.pk)
        if _state_of(project) != state or Run.objects.filter(project=project.slug, state__in=GOING).exists():
            raise Changed
        rows.filter(pk__in=ids).delete()
