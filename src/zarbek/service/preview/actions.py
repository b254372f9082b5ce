"""Making the database of a preview, and what it holds before anything is shown."""

from __future__ import annotations

from collections.abc import Iterable

import msgspec
from django.core.management import call_command

from zarbek.service.catalog.actions.projects import claim_names, ensure_project
from zarbek.service.catalog.elsewhere import ELSEWHERE
from zarbek.service.catalog.models import PortalState, Project, Release
from zarbek.service.common.packing import pack
from zarbek.service.content.link_index import LinkIndex, store_link_index
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
        manifest = msgspec.json.encode(index.manifest)
        release = Release.objects.create(project=project, version=index.manifest.version, manifest=manifest)
        release.contents = pack(store_link_index(release, index))
        release.is_live = True
        release.save(update_fields=["contents", "is_live"])
    claim_names(project, names)


def _later(publish: Publish) -> None:
    """Nobody waits for the index of a preview."""
