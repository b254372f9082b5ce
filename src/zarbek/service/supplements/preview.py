"""What a page would be with a supplement that is being written."""

from __future__ import annotations

from functools import partial

from zarbek.core.linking.link import OUTSIDE, Link
from zarbek.core.model.mention import Mention, absolute_place
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENT, Supplement
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST, find_release, get_release
from zarbek.service.content.queries import find_shown
from zarbek.service.reference.linked_texts import Texts
from zarbek.service.reference.page_data import SymbolPage
from zarbek.service.reference.supplements import Given
from zarbek.service.reference.symbol_page import get_symbol_page


def preview(project: Project, path: str, page: Page) -> SymbolPage:
    """The page of an element as it would be. page: the supplement, as ``read_written`` gives it. Raises NotFound for an
    element that the newest release has not."""
    release = get_release(project.slug, LATEST)
    companion = Project.objects.filter(beside=project).first()
    home = find_release(companion, "") if companion is not None else None
    return get_symbol_page(release, path, draft=partial(_given, home or release, page))


def _given(home: Release, page: Page) -> Given:
    """Linked as far as that is done at once: addresses; what only publishing finds out is no link yet."""
    mentions = [m for m in page.mentions if m.field != SUPPLEMENT]
    texts = Texts(mentions, [_link(m) for m in mentions], [])
    return Given(home, page, page.supplement or Supplement([]), texts, [])


def _link(mention: Mention) -> Link:
    if mention.origin == "url":
        return Link("linked", "url", path=mention.name)
    if not mention.name.startswith("api://"):
        return OUTSIDE
    slug, version, path = absolute_place(mention.name.partition("#")[0])
    project = Project.objects.filter(slug=slug).first()
    release = find_release(project, version) if project is not None else None
    if release is None:
        return Link("dangling", project=slug, reason="project", wanted=path)
    entry = find_shown(release.pk, path)
    if entry is None:
        return Link("dangling", project=slug, version=release.version, reason="symbol", wanted=path)
    return Link("linked", "symbol", slug, release.version, entry.symbol.path)
