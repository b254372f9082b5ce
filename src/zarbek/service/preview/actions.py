"""Making the database of a preview, and what it holds before anything is shown."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
from django.core.management import call_command

from zarbek.core.model.relative_lines import detach
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.actions.projects import claim_names, ensure_project, keep_tree_addresses
from zarbek.service.catalog.elsewhere import ELSEWHERE, note_release
from zarbek.service.catalog.models import PortalState, Project, Release
from zarbek.service.common.packing import digest_of, pack
from zarbek.service.content.link_index import LinkIndex, store_link_index
from zarbek.service.content.models import SymbolContent
from zarbek.service.links.actions.link_texts import keep_history
from zarbek.service.links.changed_elsewhere import note_brought
from zarbek.service.publishing.pipeline import Publish, register_stage


def make_tables() -> None:
    """The rows that are always there; search follows after a page is shown, not before."""
    call_command("migrate", run_syncdb=True, verbosity=0)
    PortalState.objects.get_or_create(pk=1)
    register_stage(40, "index", _later)


def keep_names(slug: str, title: str, names: set[str], indexes: Iterable[LinkIndex]) -> None:
    """Have links lead to a project of a portal. names: that are its own. indexes: of the releases that count."""
    project = ensure_project(slug, title)
    Project.everything.filter(pk=project.pk).update(visibility=ELSEWHERE)
    for index in indexes:
        _keep_index(project, index, is_live=True)
    claim_names(project, names)


def keep_followed(slug: str, indexes: Iterable[LinkIndex]) -> None:
    """Have texts of the tree's own project held against releases that it follows, oldest first; nobody reads them
    here."""
    project = Project.everything.get(slug=slug)
    for index in indexes:
        _keep_index(project, index, is_live=False)


def keep_elements(release_id: int, paths: Iterable[str], symbols: Iterable[Symbol]) -> int:
    """Keep what a release elsewhere says of some elements; how many. paths: of all that were asked for."""
    project = Release.objects.values_list("project", flat=True).get(pk=release_id)
    found: dict[str, int] = {}
    for symbol in symbols:
        document = msgspec.json.encode(detach(symbol))
        row, _ = SymbolContent.objects.get_or_create(
            project_id=project, digest=digest_of(document), defaults={"path": symbol.path, "document": document}
        )
        found[symbol.path] = row.pk
    for path in paths:
        note_brought(release_id, path, found.get(path, 0))
    return len(found)


def _keep_index(project: Project, index: LinkIndex, *, is_live: bool) -> None:
    release = Release.objects.create(
        project=project, version=index.manifest.version, manifest=msgspec.json.encode(index.manifest),
        first_choices=index.choices,
    )  # fmt: skip
    release.contents = pack(store_link_index(release, index))
    release.is_live = is_live
    release.save(update_fields=["contents", "is_live"])
    note_release(release.pk)
    keep_tree_addresses(release, index.manifest)
    keep_history(release)


def _later(publish: Publish) -> None:
    """Nobody waits for the index of a preview."""
