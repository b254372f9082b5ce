"""Linking a release: all of its mentions, or those that another release touched. What that found is stored by
content; the release has it once it is kept, see ``keep_links``."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass, field

from django.db.transaction import atomic

from zarbek.core.findings.report import Counted
from zarbek.core.findings.text_history import DeclarationHistory, changed_declarations, changed_texts
from zarbek.core.linking.dependency_trace import NOBODY, Asked
from zarbek.core.linking.inheritance import Inheritance
from zarbek.core.linking.versions import is_prerelease, newest, upto
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.elsewhere import releases_elsewhere
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import last_change, list_followed
from zarbek.service.common.batches import batched
from zarbek.service.common.deadlocks import retried_on_race
from zarbek.service.common.packing import digest_of, pack
from zarbek.service.content.queries import (
    find_entry,
    find_unit_of,
    get_contents,
    iter_symbols,
    list_page_refs,
    load_index,
    read_page,
    read_symbol,
)  # fmt: skip
from zarbek.service.links.documents import InheritanceBlock, LinkBlock, LinkMap, Text
from zarbek.service.links.histories import read_histories
from zarbek.service.links.linking import Judged, Linking, Tally, projects_asked, targets_of
from zarbek.service.links.models import LinkDocument, Referrer
from zarbek.service.links.own_referrers import OwnReferrers
from zarbek.service.links.queries import get_link_map, read_inheritance_document, read_link_document
from zarbek.service.links.resolution_context import DatabaseResolutionContext

#: What the manifest says, as a text.
DEPENDENCIES: Text = ("project", "")


@dataclass(slots=True)
class Linked:
    """What linking a release gave. examined: the texts that were looked at, None for all;
    mentions: how many mentions these hold."""

    tally: Tally = field(default_factory=Tally)
    findings: list[Finding] = field(default_factory=list)
    examined: set[Text] | None = None
    mentions: int = 0

    def counted(self) -> Counted:
        """How the references came out."""
        return self.tally.counted()


@dataclass(slots=True)
class NewLinks:
    """What linking a release found. links: where they are, packed. projects: those that some mention asks for, of all
    texts or of some more. since: the last change of the portal, and revision: the links of the release, that it
    rests on. documents: ids of the documents that are new to the release."""

    release: Release
    portal: DatabaseResolutionContext
    linked: Linked
    links: bytes
    projects: set[str]
    is_whole: bool
    since: int
    revision: int
    documents: set[int]


def link_release(release: Release, *, progress: Callable[[int, int], None]) -> NewLinks:
    """Link every mention of a stored release, and judge them."""
    since = last_change()
    get_contents.forget()
    if release.first_choices is None:
        release.text_history, release.declaration_history = map(pack, _histories(release))
    found = Linking(release)
    linked, kept, within = Linked(), _Kept(release.project), OwnReferrers(release)
    documents: dict[str, bytes] = {}
    inheritance, inheritance_documents = found.inheritance_of_all(), dict[str, bytes]()
    total, done = release.counts.get("symbols", 0), 0
    for unit, symbols in iter_symbols(release.pk):
        links: LinkBlock = {}
        for entry, symbol in symbols:
            if found.concerns(symbol):
                judged = found.judge_symbol(symbol)
                if judged.links:
                    links[symbol.path] = judged.links
                if symbol.visibility != "private":
                    linked.tally.add(judged.links)
                _keep(linked, kept, judged, ("symbol", entry.content))
                within.add(("symbol", symbol.path), judged.targets)
        if links:
            documents[unit] = pack(links)
        if related := {symbol.path: inheritance[symbol.path] for _, symbol in symbols if symbol.path in inheritance}:
            inheritance_documents[unit] = pack(related)
        done += len(symbols)
        progress(done, total)
    pages: LinkBlock = {}
    for ref in list_page_refs(release.pk):
        page = read_page(ref)
        judged = found.judge_page(page)
        pages[page.path] = judged.links
        linked.tally.add(judged.links)
        _keep(linked, kept, judged, ("page", ref.content))
        within.add(("page", page.path), judged.targets)
    linked.findings += found.judge_dependencies()
    packed_pages = pack(pages) if pages else b""
    stored = _store_documents(release.project, documents, packed_pages, inheritance_documents, within.documents())
    kept.store()
    return NewLinks(
        release, found.portal, linked, pack(stored), kept.projects, is_whole=True, since=since,
        revision=release.link_revision, documents=stored.document_ids(),
    )  # fmt: skip


def relink_texts(release: Release, texts: Iterable[Text]) -> NewLinks:
    """Look again at some texts of a release that is linked already. Cost: by the number of texts and
    the sizes of the modules they stand in."""
    since = last_change()
    found = Linking(release)
    linked, kept = Linked(examined=set(texts)), _Kept(release.project)
    tally = Tally.of(release)
    link_map = get_link_map(release)
    modules = dict(link_map.modules)
    within = OwnReferrers(release, link_map.referrers)
    changed: dict[str, LinkBlock] = {}
    inheritance: dict[str, InheritanceBlock] = {}
    contents = get_contents(release.pk)
    page_refs = {ref.entry.path: ref for ref in list_page_refs(release.pk)}
    pages = dict(read_link_document(link_map.pages))
    for kind, path in sorted(linked.examined or ()):
        if kind == "project":
            linked.findings += found.judge_dependencies()
            continue
        if kind == "page":
            ref = page_refs[path]
            judged = found.judge_page(read_page(ref))
            tally.add(pages.get(path, []), -1)
            tally.add(judged.links)
            within.remove((kind, path), targets_of(pages.get(path, [])))
            within.add((kind, path), judged.targets)
            pages[path] = judged.links
            _keep(linked, kept, judged, ("page", ref.content))
            continue
        entry = find_entry(release.pk, path)
        if entry is None:
            continue
        symbol = read_symbol(entry)
        judged = found.judge_symbol(symbol)
        unit = find_unit_of(contents, path)
        if unit not in changed:
            changed[unit] = dict(read_link_document(modules.get(unit, 0)))
            inheritance[unit] = dict(read_inheritance_document(link_map.inheritance.get(unit, 0)))
        if symbol.visibility != "private":
            tally.add(changed[unit].get(path, []), -1)
            tally.add(judged.links)
        within.remove((kind, path), targets_of(changed[unit].get(path, [])))
        within.add((kind, path), judged.targets)
        changed[unit][path] = judged.links
        known = inheritance[unit].get(path, Inheritance())
        if (related := found.inheritance_again(symbol, known)) != known:
            inheritance[unit][path] = related
        _keep(linked, kept, judged, ("symbol", entry.content))
    documents = {unit: pack(block) for unit, block in changed.items()}
    inheritance_documents = {unit: pack(block) for unit, block in inheritance.items() if block}
    again = within.documents()
    made = _store_documents(release.project, documents, pack(pages) if pages else b"", inheritance_documents, again)
    referrers = {**{u: d for u, d in link_map.referrers.items() if u not in again}, **made.referrers}
    links = LinkMap({**modules, **made.modules}, made.pages, {**link_map.inheritance, **made.inheritance}, referrers)
    linked.tally = tally
    kept.store()
    return NewLinks(
        release, found.portal, linked, pack(links), kept.projects, is_whole=False, since=since,
        revision=release.link_revision, documents=made.document_ids(),
    )  # fmt: skip


def _keep(linked: Linked, kept: _Kept, judged: Judged, content: tuple[str, int]) -> None:
    linked.findings += judged.findings
    linked.mentions += len(judged.links)
    kept.add(content, judged)


def keep_history(release: Release) -> None:
    """Keep when the texts and declarations of a release last changed, by those that it follows."""
    release.text_history, release.declaration_history = map(pack, _histories(release))
    release.save(update_fields=["text_history", "declaration_history"])


def _histories(release: Release) -> tuple[dict[str, str], DeclarationHistory]:
    """Against the release that this one follows: the one before it, or the newest, for a preview."""
    versions = {r.version: r.pk for r in list_followed(release.project) if r.pk != release.pk}
    ecosystem = release.project.ecosystem
    known = list(versions) if release.is_preview else upto(versions, load_index(release.pk).version, ecosystem)
    final = [v for v in known if not is_prerelease(v, ecosystem)] or known
    before = (upto(final, newest(final, ecosystem), ecosystem) if final else [])[-1:]
    if not before:
        return {}, DeclarationHistory()
    old = Release.objects.only("text_history", "declaration_history").get(pk=versions[before[0]])
    written, declared = read_histories(old)
    is_elsewhere = not releases_elsewhere().isdisjoint((old.pk, release.pk))
    ours, theirs = (
        {(ref.entry.path, ref.entry.said if is_elsewhere else ref.content) for ref in list_page_refs(pk)}
        for pk in (release.pk, old.pk)
    )
    same = frozenset(path for path, _ in ours & theirs)
    own, followed = load_index(release.pk), load_index(old.pk)
    texts = changed_texts(own, followed, written, same)
    return texts, changed_declarations(own, followed, texts, declared)


def _store_documents(
    project: Project,
    documents: dict[str, bytes],
    pages: bytes,
    inheritance: dict[str, bytes],
    referrers: dict[str, bytes],
) -> LinkMap:
    """Each by its unit; an empty document is none."""
    all_documents = [*documents.values(), *inheritance.values(), *referrers.values(), pages]
    by_digest = {digest_of(d): d for d in all_documents if d}
    ids: dict[str, int] = {}
    for batch in batched(by_digest.items()):
        ids |= _store_batch(project, dict(batch))
    modules = {module: ids[digest_of(document)] for module, document in documents.items()}
    related = {module: ids[digest_of(document)] for module, document in inheritance.items()}
    within = {unit: ids[digest_of(document)] for unit, document in referrers.items() if document}
    return LinkMap(modules, ids[digest_of(pages)] if pages else 0, related, within)


@retried_on_race
def _store_batch(project: Project, documents: dict[str, bytes]) -> dict[str, int]:
    """Digest to id. Two that link texts of one project at once may come to the same document."""
    rows = LinkDocument.objects.filter(project=project, digest__in=list(documents))
    ids = dict(rows.values_list("digest", "pk"))
    with atomic():
        made = LinkDocument.objects.bulk_create(
            [LinkDocument(project=project, digest=d, document=doc) for d, doc in documents.items() if d not in ids]
        )
    return ids | {row.digest: row.pk for row in made}


class _Kept:
    """What others must be able to ask for of the texts of a project: rows by content. Who refers to what within
    it they do not ask."""

    def __init__(self, project: Project) -> None:
        self.project = project
        self.projects: set[str] = set()
        self._wanted: dict[tuple[str, int], dict[Asked, bool]] = {}

    def add(self, content: tuple[str, int], judged: Judged) -> None:
        foreign = {(p, k) for p, k in judged.targets if p != self.project.slug}
        if not foreign and not judged.asked:
            return
        self.projects |= projects_asked(judged.asked) | {p for p, _ in foreign}
        names = dict.fromkeys(((p, k[:600]) for p, k in judged.asked if p != NOBODY), False)
        names.update(dict.fromkeys(((p, k[:600]) for p, k in foreign), True))
        if names:
            self._wanted[content] = names

    def store(self) -> None:
        """Rows for content that has none yet of these names; what is there stays."""
        for kind in ("symbol", "page"):
            wanted = {content: names for (k, content), names in self._wanted.items() if k == kind}
            for batch in batched(wanted, 1000):
                rows = Referrer.objects.filter(**{f"{kind}_id__in": batch})
                known = set(rows.values_list(f"{kind}_id", "project", "path", "is_target"))
                Referrer.objects.bulk_create(
                    [
                        Referrer(**{f"{kind}_id": content}, source=self.project, project=slug, path=path, is_target=to)
                        for content in batch
                        for (slug, path), to in sorted(wanted[content].items())
                        if (content, slug, path, to) not in known and (content, slug, path, True) not in known
                    ],
                    batch_size=500,
                )
