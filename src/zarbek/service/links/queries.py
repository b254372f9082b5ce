"""Reading the links of releases, both ways."""

from __future__ import annotations

from collections.abc import Iterator
from functools import lru_cache

from zarbek.core.linking.linker import Link
from zarbek.core.model.page import Page
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Alias, Project, Release
from zarbek.service.common.packing import unpack
from zarbek.service.links.documents import LinkBlock, LinkMap
from zarbek.service.links.models import LinkDocument, Referrer
from zarbek.service.reference.queries import iter_blocks, list_page_refs, read_page, read_symbols


def get_link_map(release: Release) -> LinkMap:
    data = Release.objects.values_list("links", flat=True).get(pk=release.pk)
    return unpack(data, LinkMap) if data else LinkMap()


def get_link_block(document_id: int) -> LinkBlock:
    if not document_id:
        return {}
    return unpack(LinkDocument.objects.values_list("document", flat=True).get(pk=document_id), LinkBlock)


def iter_links(release: Release) -> Iterator[tuple[Symbol | Page, list[Link]]]:
    """Every symbol and page of a release that mentions something, with its links."""
    link_map = get_link_map(release)
    for module, block in iter_blocks(release.pk):
        links = get_link_block(link_map.modules.get(module, 0))
        if links:
            wanted = [entry for entry in block.entries if entry.symbol.path in links]
            for _, symbol in read_symbols(wanted):
                yield symbol, links[symbol.path]
    pages = get_link_block(link_map.pages)
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        if page.path in pages:
            yield page, pages[page.path]


def list_referrers(project: Project, path: str, limit: int = 500) -> list[dict[str, str]]:
    """Symbols and pages of current releases that refer to a symbol, by project and path."""
    rows = Referrer.objects.filter(project=project.slug, path=path).select_related(None)
    symbols = rows.filter(symbol__isnull=False).values_list("source_id", "symbol_id", "symbol__path")
    pages = rows.filter(page__isnull=False).values_list("source_id", "page_id", "page__path")
    found = [("symbol", *row) for row in symbols[: limit * 4]] + [("page", *row) for row in pages[:limit]]
    current = {a.project_id: a.release for a in _latest({row[1] for row in found})}
    present = {pk: present_contents(release.pk) for pk, release in current.items()}
    titles = dict(Project.objects.filter(pk__in=current).values_list("pk", "slug"))
    return [
        {"project": titles[source], "version": current[source].version, "kind": kind, "path": name}
        for kind, source, content, name in sorted(found, key=lambda r: (titles.get(r[1], ""), r[3]))
        if source in present and (kind, content) in present[source]
    ][:limit]


def _latest(project_ids: set[int]) -> list[Alias]:
    rows = Alias.objects.filter(project_id__in=project_ids, name="latest")
    return list(rows.select_related("release").defer("release__contents", "release__links", "release__manifest"))


@lru_cache(maxsize=64)
def present_contents(release_id: int) -> set[tuple[str, int]]:
    """(kind, content id) of everything that a release holds."""
    found = {("symbol", e.content) for _, block in iter_blocks(release_id) for e in block.entries}
    return found | {("page", ref.content) for ref in list_page_refs(release_id)}
