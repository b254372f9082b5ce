"""Reading the links of releases, both ways."""

from __future__ import annotations

from collections import Counter, defaultdict
from collections.abc import Collection, Iterable, Iterator

import msgspec
from django.db.models import Count, Q

from zarbek.core.linking.dependency_trace import NOBODY, root_of
from zarbek.core.linking.inheritance import Inheritance
from zarbek.core.linking.language_profile import FAMILIES
from zarbek.core.linking.link import OUTSIDE, Link
from zarbek.core.linking.published import ADDRESS
from zarbek.core.linking.versions import sort_key
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENTS
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import PortalChange, Project, Release
from zarbek.service.catalog.queries import list_changes
from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.common.batches import batched
from zarbek.service.common.compute_once import remembering
from zarbek.service.common.packing import unpack
from zarbek.service.content.editions import audience_for, edition_name_of
from zarbek.service.content.queries import (
    find_shown,
    find_unit_of,
    get_contents,
    get_manifest,
    held,
    iter_blocks,
    list_page_refs,
    read_page,
    read_symbols,
)  # fmt: skip
from zarbek.service.links.documents import InheritanceBlock, LinkBlock, LinkMap
from zarbek.service.links.models import Dependence, LinkDocument, Referrer, waited_for
from zarbek.service.links.own_referrers import own_referrers_by_path, own_referrers_of


def get_link_map(release: Release) -> LinkMap:
    """Where a release's links are."""
    data = Release.objects.values_list("links", flat=True).get(pk=release.pk)
    return unpack(data, LinkMap) if data else LinkMap()


def read_link_document(document_id: int) -> LinkBlock:
    """As it is kept: links to the versions that the release's dependencies mean leave these out."""
    return unpack(read_document(document_id), LinkBlock) if document_id else {}


def read_document(document_id: int) -> bytes:
    """A document of any kind, packed; empty for no document."""
    return LinkDocument.objects.values_list("document", flat=True).get(pk=document_id) if document_id else b""


@remembering(100_000, lambda block: 1 + sum(map(len, block.values())))
def cached_link_document(document_id: int) -> LinkBlock:
    """Documents never change under their id."""
    return read_link_document(document_id)


def read_inheritance_document(document_id: int) -> InheritanceBlock:
    """Types with what they inherit from and who from them."""
    return unpack(read_document(document_id), InheritanceBlock) if document_id else {}


@remembering(100_000, lambda block: 1 + len(block))
def _cached_inheritance_document(document_id: int) -> InheritanceBlock:
    """Documents never change under their id."""
    return read_inheritance_document(document_id)


def get_inheritance(release: Release, link_map: LinkMap, path: str) -> Inheritance:
    """Of a type, as it is kept: bases in the versions that the release's dependencies mean leave these out."""
    unit = find_unit_of(get_contents(release.pk), path)
    return _cached_inheritance_document(link_map.inheritance.get(unit, 0)).get(path) or Inheritance()


def links_in(release: Release, document_id: int, path: str) -> list[Link]:
    """The links of one text of a release, one a mention; empty for a text without any."""
    return with_versions(release, cached_link_document(document_id).get(path, []))


def with_versions(release: Release, links: list[Link]) -> list[Link]:
    """Links with the versions that a reader of the release is sent to. One into a project that is kept from whoever
    asks is none."""
    choices, own, hidden = release.choices, release.project.slug, hidden_projects().slugs

    def shown(link: Link) -> Link:
        if link.project in hidden:
            return OUTSIDE
        if not link.project or link.version:
            return link
        version = release.version if link.project == own else choices.get(link.project, "")
        return msgspec.structs.replace(link, version=version)

    targets: dict[tuple[str, str], int | None] = {(own, release.version): release.pk}

    def is_in_edition(link: Link) -> bool:
        """Whether it leads to what the asker's edition of its project has."""
        place = (link.project, link.version)
        if place not in targets:
            rows = Release.objects.filter(project__slug=link.project, version=link.version, is_live=True)
            targets[place] = rows.values_list("pk", flat=True).first()
        target = targets[place]
        return target is None or audience_for(get_manifest(target)).has(link.variants)

    made = (shown(link) for link in links)
    return [OUTSIDE if link.variants and not is_in_edition(link) else link for link in made]


def iter_links(release: Release) -> Iterator[tuple[Symbol | Page, list[Link]]]:
    """Every symbol and page of a release that mentions something, with its links."""
    link_map = get_link_map(release)
    for module, block in iter_blocks(release.pk):
        links = read_link_document(link_map.modules.get(module, 0))
        if links:
            wanted = [entry for entry in block.entries if entry.symbol.path in links]
            for _, symbol in read_symbols(wanted):
                yield symbol, with_versions(release, links[symbol.path])
    pages = read_link_document(link_map.pages)
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        if page.path in pages:
            yield page, with_versions(release, pages[page.path])


def links_of_text(release: Release, link_map: LinkMap, kind: str, path: str) -> list[Link]:
    """The links of one symbol or page of a release, as they are kept."""
    if kind == "page":
        return cached_link_document(link_map.pages).get(path, [])
    unit = find_unit_of(get_contents(release.pk), path)
    return cached_link_document(link_map.modules.get(unit, 0)).get(path, [])


def are_kept(documents: Collection[int]) -> bool:
    """Whether all link documents of these ids are there."""
    found = sum(LinkDocument.objects.filter(pk__in=batch).count() for batch in batched(sorted(documents), 1000))
    return found == len(documents)


def list_concerning(release: Release, since: int) -> list[PortalChange]:
    """Changes of the portal after one that may concern what names of a release mean: by its dependences as they are
    kept, it asks for names of the project, or for some that changed hands."""
    return [change for change in list_changes(since) if _concerns(release, change)]


def _concerns(release: Release, change: PortalChange) -> bool:
    if change.project == release.project.slug:
        return True
    asked = Dependence.objects.filter(release=release)
    if change.project and asked.filter(project=change.project).exists():
        return True
    waiting = names_of(change.namespaces)
    return waiting is not None and asked.filter(waiting).exists()


def list_neighbours(project: Project) -> set[str]:
    """Projects that some release of a project refers to, or that refer to it: their pages say so."""
    own = Dependence.objects.filter(release__project=project).exclude(project__startswith=NOBODY)
    theirs = Dependence.objects.filter(project=project.slug)
    return {*own.values_list("project", flat=True), *theirs.values_list("release__project__slug", flat=True)}


def names_of(namespaces: Collection[str]) -> Q | None:
    """Which dependences are on names that begin so; None for no names. namespaces: ``family:namespace``, or a
    namespace of any family, and package URLs."""
    if not namespaces:
        return None
    wanted = Q()
    for name in namespaces:
        if name.startswith("pkg:"):
            wanted |= Q(project=waited_for(name))
            continue
        if name.startswith(f"{ADDRESS}:"):
            root = waited_for(f"{ADDRESS}:{root_of(name.partition(':')[2].rstrip('/'))}")
            wanted |= Q(project=root) | Q(project__startswith=f"{root}/")
            continue
        family, _, namespace = name.partition(":")
        families, namespace = ([family], namespace) if family in FAMILIES else (FAMILIES, name)
        for asking in {*families, ""}:  # Prose names what any family has.
            root = waited_for(f"{asking}:{root_of(namespace)}")
            wanted |= Q(project=root) | Q(project__startswith=f"{root}.") | Q(project__startswith=f"{root}/")
    return wanted


def list_referrers(project: Project, path: str, limit: int = 500) -> list[dict[str, str]]:
    """Symbols and pages of judged releases that refer to a symbol, by project, version and path."""
    rows = Referrer.objects.filter(project=project.slug, path=path, is_target=True)
    symbols = rows.filter(symbol__isnull=False).values_list("source_id", "symbol_id", "symbol__path")
    pages = rows.filter(page__isnull=False).values_list("source_id", "page_id", "page__path")
    found = [("symbol", *row) for row in symbols[: limit * 4]] + [("page", *row) for row in pages[:limit]]
    releases = judged_by_project({row[1] for row in found})
    texts = {
        (release.pk, kind, name, content): release
        for kind, source, content, name in found
        for release in releases.get(source, ())
    }
    all_found = [(texts[text], text[1], text[2]) for text in held(texts)]
    for release in judged_by_project({project.pk}).get(project.pk, ()):
        all_found += [(release, kind, name) for kind, name in own_referrers_of(release, [path])]
    all_found = [found for found in all_found if may_read_text(*found)]
    told = [{"project": r.project.slug, "version": r.version, "kind": k, "path": p} for r, k, p in all_found]
    return sorted(told, key=lambda r: (r["project"], r["path"], r["version"]))[:limit]


def list_supplements(project: Project, paths: Iterable[str]) -> list[tuple[Release, str, set[str]]]:
    """Supplements in other projects for some elements or for all of their project that match some pattern, by project:
    the newest judged release, the path of the supplement, and which of the elements it names."""
    rows = Referrer.objects.filter(project=project.slug, is_target=True, page__path__startswith=SUPPLEMENTS)
    targets: dict[tuple[int, int, str], set[str]] = defaultdict(set)
    for some in batched(["", *paths]):
        for *text, target in rows.filter(path__in=some).values_list("source_id", "page_id", "page__path", "path"):
            targets[tuple(text)].add(target)
    releases = judged_by_project({source for source, _, _ in targets})
    texts = {
        (release.pk, "page", name, content): (release, name, named - {""})
        for (source, content, name), named in targets.items()
        for release in _last_of(releases.get(source, []))
    }
    told = [texts[text] for text in held(texts)]
    return sorted(told, key=lambda t: (t[0].project.slug, t[1]))


def _last_of(releases: list[Release]) -> list[Release]:
    return sorted(releases, key=lambda r: sort_key(r.version, r.project.ecosystem))[-1:]


def may_read_text(release: Release, kind: str, path: str) -> bool:
    """Whether whoever asks may read a symbol or page of a release, by the edition that they read."""
    if not edition_name_of(get_manifest(release.pk)):
        return True
    if kind == "page":
        return any(ref.entry.path == path for ref in list_page_refs(release.pk))
    return kind == "project" or find_shown(release.pk, path) is not None


def count_referrers_of(release: Release, paths: Collection[str]) -> Counter[str]:
    """Of each path of a release how many texts refer to it: those of its own release, and of the others' contents."""
    found: Counter[str] = Counter()
    rows = Referrer.objects.filter(project=release.project.slug, path__in=list(paths), is_target=True)
    found.update(dict(rows.values_list("path").annotate(count=Count("pk"))))
    found.update({path: len(texts) for path, texts in own_referrers_by_path(release, paths).items()})
    return found


def judged_by_project(project_ids: set[int]) -> dict[int, list[Release]]:
    """Project id to its releases whose references are judged, previews left out."""
    found: dict[int, list[Release]] = {}
    rows = Release.objects.filter(project_id__in=project_ids, is_live=True, is_judged=True, is_preview=False)
    for release in rows.select_related("project"):
        found.setdefault(release.project_id, []).append(release)
    return found
