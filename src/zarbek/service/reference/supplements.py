"""The supplements for an element, and its page with what they say."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Callable, Collection, Iterable, Iterator
from dataclasses import dataclass
from itertools import chain, starmap

import msgspec

from zarbek.core.editions.supplements import KINDS, SOURCE, Told, tell
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.link import Link
from zarbek.core.model.doc_text import Doc, DocField
from zarbek.core.model.finding import Finding
from zarbek.core.model.page import Page
from zarbek.core.model.supplement import SUPPLEMENT, Part, Supplement, pattern_of, place_of
from zarbek.core.model.symbol import Symbol
from zarbek.core.writing.html import NO_HTML, SafeHtml, joined_html
from zarbek.service.catalog.models import Release
from zarbek.service.content.block_layout import PageRef
from zarbek.service.content.queries import list_page_refs, read_page
from zarbek.service.links.own_referrers import own_referrers_by_path
from zarbek.service.links.queries import get_link_map, links_in, list_supplements
from zarbek.service.reference.interface_page_data import InterfaceView
from zarbek.service.reference.linked_texts import UNLINKED, Texts, href_of
from zarbek.service.reference.page_data import FieldView, MemberDetail, SectionView, SymbolPage
from zarbek.service.reference.supplement_data import SupplementView, WordsView
from zarbek.service.reference.text_findings import list_findings

#: For one element.
MAX_SUPPLEMENTS = 50


@dataclass(frozen=True, slots=True)
class Given:
    """A supplement for an element, in the release of its project that counts."""

    release: Release
    page: Page
    supplement: Supplement
    texts: Texts
    findings: list[Finding]

    def view(self) -> SupplementView:
        """What a page says of it."""
        home = Link("linked", "page", self.release.project.slug, self.release.version, self.page.path)
        return SupplementView(
            home.project, home.version, home.path, href_of(home), self.page.file,
            ", ".join(self.supplement.targets), self.supplement.language,
        )  # fmt: skip


def list_given(release: Release, path: str) -> list[Given]:
    """Those of the element's own project, then those of others, each by path."""
    return list(starmap(read_given, find_given(release, [path]).get(path, [])))


def find_given(release: Release, paths: Collection[str]) -> dict[str, list[tuple[Release, PageRef]]]:
    """The same for many elements, of those that have any. Cost: a query for each 500 elements, and for each release
    that has supplements for them."""
    found: dict[str, list[tuple[Release, PageRef]]] = defaultdict(list)
    for home, ref, targets in chain(_own(release, paths), _foreign(release, paths)):
        patterns = list(_patterns(ref, release.project.slug, home.project.slug))
        meant = [path for path in paths if any(p.fullmatch(path) for p in patterns)] if patterns else []
        for path in targets.union(meant):
            if len(found[path]) < MAX_SUPPLEMENTS:
                found[path].append((home, ref))
    return found


#: A supplement, the release that has it, and elements that it names.
_Named = tuple[Release, PageRef, set[str]]


def _own(release: Release, paths: Collection[str]) -> Iterator[_Named]:
    refs = sorted((ref for ref in list_page_refs(release.pk) if ref.entry.supplements), key=lambda r: r.entry.path)
    named: dict[str, set[str]] = defaultdict(set)
    for path, texts in (own_referrers_by_path(release, paths) if refs else {}).items():
        for kind, name in texts:
            if kind == "page":
                named[name].add(path)
    yield from ((release, ref, named[ref.entry.path]) for ref in refs)


def _foreign(release: Release, paths: Collection[str]) -> Iterator[_Named]:
    known: dict[int, dict[str, PageRef]] = {}
    for home, name, targets in list_supplements(release.project, paths):
        if home.project_id == release.project_id:
            continue
        if home.pk not in known:
            known[home.pk] = {ref.entry.path: ref for ref in list_page_refs(home.pk) if ref.entry.supplements}
        if (ref := known[home.pk].get(name)) is not None:
            yield home, ref, targets


def _patterns(ref: PageRef, slug: str, home: str) -> Iterator[re.Pattern[str]]:
    """Those of a supplement that mean elements of a project. home: the project that has it."""
    for target in ref.entry.supplements:
        project, _, wanted = place_of(target, home)
        pattern = pattern_of(wanted)
        if project == slug and pattern is not None:
            yield pattern


def with_told_summaries(release: Release, entries: list[SymbolEntry], language: str) -> list[SymbolEntry]:
    """Elements of a release with what readers of a language see as their summaries where supplements say it."""
    given = find_given(release, {entry.path for entry in entries}) if entries else {}
    pages = {ref.content: read_page(ref).supplement for pairs in given.values() for _, ref in pairs}
    made = []
    for entry in entries:
        wanted = [said for _, ref in given.get(entry.path, ()) if (said := pages[ref.content]) is not None]
        told = tell(Doc(summary=entry.summary), wanted, language)
        words = " ".join(t.text for t in told if t.kind == "summary" and t.hidden_by is None)
        made.append(msgspec.structs.replace(entry, summary=words) if words != entry.summary else entry)
    return made


def read_given(release: Release, ref: PageRef) -> Given:
    """A supplement in full. release: that which has it."""
    page = read_page(ref)
    links = links_in(release, get_link_map(release).pages, page.path)
    pairs = [(m, k) for m, k in zip(page.mentions, links, strict=False) if m.field != SUPPLEMENT]
    findings = list_findings(release, page.path, "page")
    texts = Texts([m for m, _ in pairs], [k for _, k in pairs], findings)
    return Given(release, page, page.supplement or Supplement([]), texts, findings)


def with_draft(given: list[Given], make: Callable[[], Given] | None) -> list[Given]:
    """Supplements with one that is being written, if there is any, in the place of what it was before."""
    if make is None:
        return given
    draft = make()
    others = [g for g in given if (g.release.pk, g.page.path) != (draft.release.pk, draft.page.path)]
    return [*others, draft]


def languages_of(given: Iterable[Given]) -> list[str]:
    """Languages into which something is translated."""
    return sorted({g.supplement.language for g in given if g.supplement.language})


def shown_source(doc: Doc, told: list[Told]) -> Doc:
    """What readers see of the source: no part of it that a supplement stands in the place of."""
    hidden = {(t.kind, t.name) for t in told if t.by == SOURCE and t.hidden_by is not None}
    if not hidden:
        return doc
    kinds = {kind for kind, _ in hidden}
    kept = [s for s in doc.sections if _part_of(s.kind) not in kinds]
    fields = [
        msgspec.structs.replace(f, text="") if ("parameter", f.name.lstrip("*")) in hidden else f
        for f in doc.parameters
    ]
    return msgspec.structs.replace(
        doc, summary="" if "summary" in kinds else doc.summary, body="" if "text" in kinds else doc.body,
        sections=kept, parameters=fields, see=[] if "see" in kinds else doc.see,
    )  # fmt: skip


def _part_of(section: str) -> str:
    return "examples" if section in ("example", "examples") else section


def _added(told: list[Told]) -> list[Told]:
    """What supplements say and readers see."""
    return [t for t in told if t.by != SOURCE and t.hidden_by is None]


def with_supplements(page: SymbolPage, told: list[Told], given: list[Given], source: Texts) -> SymbolPage:
    """A page that shows what remains of the source, with what the supplements say, and whose words are whose."""
    if not given:
        return page
    shown = _added(told)
    html = {kind: [given[t.by].texts.block(t.text) for t in shown if t.kind == kind] for kind in KINDS}
    lines = [given[t.by].texts.line(t.text) for t in shown if t.kind == "summary"]
    return msgspec.structs.replace(
        _with_parameters(page, told, html["parameter"]),
        summary=joined_html([page.summary, *lines], " "), body=joined_html([page.body, *html["text"]]),
        sections=[*page.sections, *_sections(html)], see=[*page.see, *(FieldView(html=each) for each in html["see"])],
        supplements=[g.view() for g in given], words=list(_words(told, given, source)),
        languages=languages_of(given), findings=[*page.findings, *(f for g in given for f in g.findings)],
    )  # fmt: skip


def with_member_supplements(detail: MemberDetail, told: list[Told], given: list[Given]) -> MemberDetail:
    """A member as it stands on its type's page, with what supplements say it is and takes."""
    shown = _added(told)
    lines = [given[t.by].texts.line(t.text) for t in shown if t.kind == "summary"]
    texts = [given[t.by].texts.block(t.text) for t in shown if t.kind == "text"]
    fields = [(t.name, given[t.by].texts.block(t.text)) for t in shown if t.kind == "parameter"]
    return msgspec.structs.replace(
        detail, summary=joined_html([detail.summary or NO_HTML, *lines], " "),
        body=joined_html([detail.body or NO_HTML, *texts]), parameters=_parameters(detail.parameters, fields),
    )  # fmt: skip


def _with_parameters(page: SymbolPage, told: list[Told], html: list[SafeHtml]) -> SymbolPage:
    """html: what supplements say of parameters, in order."""
    of_parameters = [t for t in told if t.kind == "parameter"]
    names = [t.name for t in _added(of_parameters)]
    gone = {t.name for t in of_parameters if t.by == SOURCE and t.hidden_by is not None}
    slots, fields = _by_place(page, list(zip(names, html, strict=True)))
    return msgspec.structs.replace(
        page, parameters=_parameters(page.parameters, fields), interface=_with_slots(page.interface, slots, gone)
    )


def _sections(html: dict[Part, list[SafeHtml]]) -> Iterator[SectionView]:
    kinds: tuple[Part, ...] = ("remarks", "examples")
    for kind in kinds:
        if html[kind]:
            yield SectionView(kind, "", joined_html(html[kind]))


#: (name of a parameter, what a supplement says of it).
Added = list[tuple[str, SafeHtml]]


def told_by_source(symbol: Symbol, doc: Doc) -> Doc:
    """What the source says, of an operation with what it says of its parameters."""
    operation = symbol.interface.operation if symbol.interface is not None else None
    if operation is None:
        return doc
    slots = [DocField(slot.name, text=slot.text) for slot in operation.parameters]
    return msgspec.structs.replace(doc, parameters=[*doc.parameters, *slots])


def _by_place(page: SymbolPage, added: Added) -> tuple[Added, Added]:
    """What is said of an operation's parameters, and of others."""
    operation = page.interface.operation if page.interface is not None else None
    names = {slot.name for slot in operation.parameters} if operation is not None else set()
    return [each for each in added if each[0] in names], [each for each in added if each[0] not in names]


def _with_slots(interface: InterfaceView | None, added: Added, gone: set[str]) -> InterfaceView | None:
    """An operation with what supplements say of its parameters. gone: those of which the source's text is hidden."""
    operation = interface.operation if interface is not None else None
    if interface is None or operation is None or not added:
        return interface
    slots = []
    for slot in operation.parameters:
        own = [slot.html] if slot.html and slot.name not in gone else []
        more = [html for name, html in added if name == slot.name]
        slots.append(msgspec.structs.replace(slot, html=joined_html([*own, *more])) if more else slot)
    return msgspec.structs.replace(interface, operation=msgspec.structs.replace(operation, parameters=slots))


def _parameters(fields: list[FieldView], added: Added) -> list[FieldView]:
    """Parameters with what supplements say of them; those of which the source says nothing come last."""
    made = list(fields)
    for name, html in added:
        at = next((n for n, f in enumerate(made) if "".join(p.text for p in f.name).lstrip("*") == name), None)
        if at is None:
            made.append(FieldView(name=UNLINKED.name(name), html=html))
        else:
            old = made[at].html
            made[at] = msgspec.structs.replace(made[at], html=joined_html([old, html]) if old else html)
    return made


def _words(told: list[Told], given: list[Given], source: Texts) -> Iterator[WordsView]:
    for each in told:
        texts = source if each.by == SOURCE else given[each.by].texts
        line = 0
        if each.by != SOURCE:
            parts = given[each.by].supplement.parts
            line = next((p.line for p in parts if (p.kind, p.name, p.text) == (each.kind, each.name, each.text)), 0)
        yield WordsView(each.kind, texts.block(each.text), each.by, each.hidden_by, each.name, line)
