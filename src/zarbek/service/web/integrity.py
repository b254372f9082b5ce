"""Everything that is kept, held against itself: what is named is there, says what its digest says, and links are what
they would be if they were made now."""

from __future__ import annotations

from collections.abc import Collection, Iterator
from hashlib import sha256
from pathlib import Path
from typing import Any

import msgspec
from django.conf import settings
from django.core.exceptions import ObjectDoesNotExist

from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.batches import batched
from zarbek.service.common.packing import digest_of, unpack
from zarbek.service.content.block_layout import ReleaseContents
from zarbek.service.content.models import Asset, Block, PageContent, SymbolContent
from zarbek.service.content.queries import contents_held_by
from zarbek.service.findings.recomputation import list_differences
from zarbek.service.links.documents import LinkMap
from zarbek.service.links.models import LinkDocument
from zarbek.service.publishing.models import GOING, Run
from zarbek.service.search.queries import list_lacking

_DIGESTED = ((SymbolContent, "symbol"), (PageContent, "guide"), (Block, "block"), (LinkDocument, "links"))


def list_faults(projects: Collection[str] | None = None) -> Iterator[str]:
    """What differs, in words; projects: slugs, None for all and for what belongs to none."""
    rows = Project.objects.all() if projects is None else Project.objects.filter(slug__in=projects)
    for project in rows:
        yield from _faults_of_project(project)
        yield from _differences_of(project)
    if projects is None:
        yield from _faults_of_runs()
        yield from _faults_of_search()


def _faults_of_project(project: Project) -> Iterator[str]:
    for release in Release.objects.filter(project=project).defer(None).order_by("pk"):
        yield from _faults_of_release(release)
    for model, what in _DIGESTED:
        yield from _wrong_digests(project, model, what)
    yield from _faults_of_assets(project)


def _differences_of(project: Project) -> Iterator[str]:
    """Where links would be others if they were made now; where what they are made from is damaged, that."""
    try:
        for found in list_differences([project.slug]):
            yield f"{found.release}: {found.place} is kept as {found.kept} and would be {found.computed}"
    except (ObjectDoesNotExist, msgspec.DecodeError) as error:
        yield f"{project.slug}: its links cannot be made now: {error}"


def _faults_of_release(release: Release) -> Iterator[str]:
    name = f"{release.project.slug} {release.version}"
    if not release.contents:
        if release.is_live:
            yield f"{name} is shown and has no contents"
        return
    contents = unpack(release.contents, ReleaseContents)
    blocks = contents.blocks
    links = unpack(release.links, LinkMap).document_ids() if release.links else set()
    symbols, pages = contents_held_by(blocks)
    for model, wanted, what in ((Block, blocks, "blocks"), (SymbolContent, symbols, "symbols"),
                                (PageContent, pages, "guides"), (LinkDocument, links, "link documents")):  # fmt: skip
        if missing := len(wanted) - sum(model.objects.filter(pk__in=batch).count() for batch in batched(wanted, 1000)):
            yield f"{name} names {missing} {what} that are not there"
    known = set(Asset.objects.filter(project=release.project).values_list("digest", flat=True))
    if missing := len(set(contents.assets.values()) - known):
        yield f"{name} names {missing} files that are not there"


def _wrong_digests(project: Project, model: Any, what: str) -> Iterator[str]:
    for pk, digest, document in (
        model.objects.filter(project=project).values_list("pk", "digest", "document").iterator()
    ):
        if digest_of(document) != digest:
            yield f"{project.slug}: {what} {pk} is not what its digest says"


def _faults_of_assets(project: Project) -> Iterator[str]:
    for asset in Asset.objects.filter(project=project):
        try:
            with asset.file.open() as file:
                is_whole = sha256(file.read()).hexdigest() == asset.digest
        except OSError as error:
            yield f"{project.slug}: the file {asset.file.name} cannot be read: {error.strerror}"
            continue
        if not is_whole:
            yield f"{project.slug}: the file {asset.file.name} is not what its digest says"


def _faults_of_runs() -> Iterator[str]:
    for run in Run.objects.filter(state__in=GOING).exclude(bundle=""):
        if not Path(settings.MEDIA_ROOT, run.bundle).is_file():
            yield f"run {run.pk} of {run.project} waits with a bundle that is not there"


def _faults_of_search() -> Iterator[str]:
    missing = list_lacking()
    if missing is None:
        yield "the search index cannot be read"
    for release in Release.objects.filter(pk__in=missing or ()).select_related("project"):
        yield f"{release.project.slug} {release.version} is not in the search index"
