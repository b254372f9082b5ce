"""Linking a release: its own mentions, and others' mentions that it affects."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field

from zarbek.core.findings.linkrules import Knowledge, judge_page, judge_symbol
from zarbek.core.findings.report import Counted
from zarbek.core.linking.linker import Link, Linker
from zarbek.core.linking.suggestions import Suggestion, suggest
from zarbek.core.model.finding import Finding
from zarbek.core.model.mention import Mention
from zarbek.core.model.naming import first_part
from zarbek.service.catalog.models import Alias, Project, Release
from zarbek.service.common.batches import batched
from zarbek.service.common.packing import digest_of, pack
from zarbek.service.links.documents import LinkBlock, LinkMap
from zarbek.service.links.models import LinkDocument, Referrer
from zarbek.service.links.portal import DatabasePortal
from zarbek.service.reference.queries import (
    get_contents,
    get_manifest,
    iter_blocks,
    list_page_refs,
    load_index,
    read_page,
    read_symbols,
)  # fmt: skip

Target = tuple[str, str]
#: The project field of a referrer whose name nobody in the portal owns.
NOBODY = "?"


@dataclass(slots=True)
class Linked:
    """What linking a release gave."""

    findings: list[Finding] = field(default_factory=list)
    total: int = 0
    outside: int = 0
    dangling: int = 0
    stale: int = 0

    def count(self, links: Iterable[Link]) -> None:
        for link in links:
            self.total += 1
            if link.outcome == "outside":
                self.outside += 1
            elif link.outcome != "linked":
                self.dangling += 1
            elif link.stale:
                self.stale += 1

    def counted(self) -> Counted:
        judged = self.total - self.outside
        return Counted(judged, judged - self.dangling - self.stale, self.dangling, self.stale, self.outside)


def link_release(release: Release, *, progress: Callable[[int, int], None]) -> Linked:
    """Link every mention of a stored release, keep the links, and judge them."""
    get_contents.cache_clear()
    manifest = get_manifest(release.pk)
    own = load_index(release.pk)
    portal = DatabasePortal(manifest, own)
    linker = Linker(own, portal)
    knowledge = knowledge_of(portal)
    linked = Linked()
    documents: dict[str, bytes] = {}
    referrers: dict[tuple[str, int], set[Target]] = {}
    total = release.counts.get("symbols", 0)
    done = 0
    for module, block in iter_blocks(release.pk):
        links: LinkBlock = {}
        for entry, symbol in read_symbols(block.entries):
            if symbol.mentions:
                found = linker.link_all(symbol.path, symbol.mentions)
                links[symbol.path] = found
                if symbol.visibility != "private":
                    linked.count(found)
                linked.findings += judge_symbol(symbol, found, knowledge)
                referrers[("symbol", entry.content)] = targets_of(symbol.mentions, found)
        if links:
            documents[module] = pack(links)
        done += len(block.entries)
        progress(done, total)
    pages: LinkBlock = {}
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        text = next(iter(linker.link_pages([page])))
        pages[page.path] = text.links
        linked.count(text.links)
        linked.findings += judge_page(page, text.links, knowledge)
        referrers[("page", ref.content)] = targets_of(page.mentions, text.links)
    _keep_links(release, documents, pages)
    _keep_referrers(release.project, referrers)
    release.choices = portal.choices
    release.save(update_fields=["links", "choices"])
    return linked


def knowledge_of(portal: DatabasePortal) -> Knowledge:
    def find_suggestion(project: str, version: str, name: str) -> Suggestion | None:
        target = portal.find(project, version) if version else portal.index_of(project)
        return suggest(name, target, portal.before(project, name)) if target is not None else None

    def entry(link: Link):  # type: ignore[no-untyped-def]
        index = portal.find(link.project, link.version)
        return index.symbols.get(link.path) if index else None

    def newest(project: str) -> str:
        index = portal.newest_of(project)
        return index.version if index else ""

    return Knowledge(find_suggestion, entry, portal.gone_since, portal.deprecated_in, newest)


def targets_of(mentions: list[Mention], links: list[Link]) -> set[Target]:
    """What content refers to or waits for, as (project, path)."""
    found: set[Target] = set()
    for mention, link in zip(mentions, links, strict=True):
        if link.outcome == "outside":
            if mention.origin != "code" and link.wanted:
                found.add((NOBODY + link.wanted[:100], ""))
        elif link.kind in ("symbol", "page", "project"):
            found.add((link.project, link.path))
        elif link.outcome == "dangling" and link.project:
            found.add((link.project, link.wanted[:600]))
    return found


def _keep_links(release: Release, documents: dict[str, bytes], pages: LinkBlock) -> None:
    packed_pages = pack(pages) if pages else b""
    by_digest = {digest_of(d): d for d in [*documents.values(), *([packed_pages] if pages else [])]}
    ids: dict[str, int] = {}
    for batch in batched(by_digest.items()):
        rows = LinkDocument.objects.filter(project=release.project, digest__in=[d for d, _ in batch])
        ids.update(rows.values_list("digest", "pk"))
        made = LinkDocument.objects.bulk_create(
            [LinkDocument(project=release.project, digest=d, document=doc) for d, doc in batch if d not in ids]
        )
        ids.update((row.digest, row.pk) for row in made)
    modules = {module: ids[digest_of(document)] for module, document in documents.items()}
    release.links = pack(LinkMap(modules, ids[digest_of(packed_pages)] if pages else 0))


def _keep_referrers(project: Project, wanted: dict[tuple[str, int], set[Target]]) -> None:
    """Rows for content that has none yet of these targets; what is there stays."""
    for kind in ("symbol", "page"):
        contents = {content: targets for (k, content), targets in wanted.items() if k == kind}
        for batch in batched(contents, 1000):
            rows = Referrer.objects.filter(**{f"{kind}_id__in": batch})
            known = set(rows.values_list(f"{kind}_id", "project", "path"))
            Referrer.objects.bulk_create(
                [
                    Referrer(**{f"{kind}_id": content}, source=project, project=slug, path=path)
                    for content in batch
                    for slug, path in sorted(contents[content])
                    if (content, slug, path) not in known
                ],
                batch_size=500,
            )


def iter_dependants(project: Project, namespaces: list[str]) -> Iterator[Release]:
    """Current releases of other projects whose content refers to a project or waits for it."""
    names = [project.slug, *sorted({NOBODY + first_part(name) for name in namespaces})]
    sources = Referrer.objects.filter(project__in=names).exclude(source=project)
    slugs = set(sources.values_list("source_id", flat=True).distinct())
    latest = Alias.objects.filter(project_id__in=slugs, name="latest").values_list("release_id", flat=True)
    current = Release.objects.filter(pk__in=list(latest), is_live=True)
    previews = Release.objects.filter(project_id__in=slugs, is_live=True, is_preview=True)
    yield from sorted({r.pk: r for r in [*current, *previews]}.values(), key=lambda r: r.pk)
