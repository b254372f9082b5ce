"""The page of one symbol, put together from its content, links, findings and referrers."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import starmap
from urllib.parse import quote

import msgspec

from zarbek.core.editions.supplements import tell
from zarbek.core.linking.index import MODULE_KINDS, SymbolEntry
from zarbek.core.linking.link import Link
from zarbek.core.linking.targets import TYPE_KINDS
from zarbek.core.model.doc_text import USE_BEGINS, Doc, DocField
from zarbek.core.model.naming import enclosing_of
from zarbek.core.model.symbol import LENT, Parameter, Signature, Symbol
from zarbek.core.writing.declaration import break_declaration
from zarbek.core.writing.html import SafeHtml
from zarbek.core.writing.type_text import Piece
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import list_releases
from zarbek.service.common.paging import Place, make_cursor, start_after
from zarbek.service.common.problems import NotFound
from zarbek.service.content.block_layout import BlockEntry
from zarbek.service.content.queries import (
    find_content,
    find_entry,
    find_home,
    find_shown,
    find_unit_of,
    get_aliases,
    get_contents,
    get_manifest,
    get_module_block,
    list_page_refs,
    read_symbol,
    read_symbols,
)  # fmt: skip
from zarbek.service.links.comparison import find_predecessor
from zarbek.service.links.documents import LinkBlock
from zarbek.service.links.queries import cached_link_document, get_link_map, list_referrers, with_versions
from zarbek.service.links.resolution_context import DatabaseResolutionContext
from zarbek.service.reference.example_page import get_example_view, list_examples, list_exercised
from zarbek.service.reference.inherited_documentation import Telling
from zarbek.service.reference.interface_page import get_interface_view
from zarbek.service.reference.linked_texts import UNLINKED, Texts, href_of
from zarbek.service.reference.navigation import audience_of_release, crumb_of, href_of_symbol, in_order, navigation_of
from zarbek.service.reference.page_data import (
    ChangeView,
    Crumb,
    DeprecationView,
    FieldView,
    MemberDetail,
    MemberDetails,
    MemberView,
    PagePlace,
    ParameterView,
    ReferrerCount,
    SectionView,
    SignatureView,
    SymbolPage,
)  # fmt: skip
from zarbek.service.reference.source_page import find_source_page
from zarbek.service.reference.supplements import (
    Given,
    find_given,
    list_given,
    read_given,
    shown_source,
    told_by_source,
    with_draft,
    with_member_supplements,
    with_supplements,
    with_told_summaries,
)
from zarbek.service.reference.table_page import get_data_view
from zarbek.service.reference.text_findings import list_findings
from zarbek.service.reference.type_hierarchy import Family, Relative

_DETAILED = frozenset({"method", "property", "constructor", "operator", "event"})
_MAX_INHERITED = 300
#: So many members stand in full on a page at once; the others are asked for after it is shown.
_FIRST_DETAILS = 12
_MAX_MEMBERS = 400


def get_symbol_page(
    release: Release, path: str, language: str = "", draft: Callable[[], Given] | None = None
) -> SymbolPage:
    """language: of the reader, as BCP 47 has it. draft: makes a supplement that is not published yet, which takes the
    place of that of its path. Raises NotFound with the nearest release that has the symbol."""
    entry = find_shown(release.pk, path)
    if entry is None:
        raise _absent(release, path)
    symbol = read_symbol(entry)
    project = release.project
    block = _links_of(release, symbol.path)
    findings = list_findings(release, symbol.path, "symbol")
    referrers = list_referrers(project, symbol.path)
    mentions, links = list(symbol.mentions), list(block.get(symbol.path, []))
    for part in _signature_parts(release, symbol):
        mentions += part.mentions
        links += block.get(part.path, [])
    texts = Texts(mentions, links, findings)
    family = Family(release)
    doc, texts, given_by = Telling(family, [(entry.symbol, symbol)]).of(symbol, texts)
    given = with_draft(list_given(release, symbol.path), draft)
    told = tell(told_by_source(symbol, doc), [g.supplement for g in given], language)
    doc = shown_source(doc, told)
    members, inherited, subclasses = _surroundings(family, entry.symbol, symbol.holds, language)
    details = _details(family, symbol, block, None, _FIRST_DETAILS, language)
    members_left = 0
    if symbol.kind == "api":  # Its operations stand on its page by what they are about.
        members = [m for m in members if m.kind != "operation"]
        members_left, members = max(len(members) - _MAX_MEMBERS, 0), members[:_MAX_MEMBERS]
    page = SymbolPage(
        navigation=navigation_of(release, find_home(release.pk, symbol.path) or symbol.module, symbol.path),
        path=symbol.path,
        name=symbol.name,
        kind=symbol.kind,
        language=symbol.language,
        parent=_parent(release, symbol),
        flags=symbol.flags,
        decorators=symbol.decorators,
        signatures=[_signature(s, texts) for s in symbol.signatures],
        bases=_bases(family, entry.symbol, texts),
        type=texts.type(symbol.type),
        value=symbol.value,
        summary=texts.line(doc.summary),
        body=texts.block(doc.body),
        **_fields(doc, symbol, texts),
        sections=[SectionView(s.kind, s.title, texts.block(s.text)) for s in doc.sections],
        since=doc.since,
        changes=[ChangeView(c.version, texts.line(c.text)) for c in doc.changes],
        deprecated=_deprecated(doc, release, symbol.path, texts),
        members=members,
        members_left=members_left,
        inherited=inherited,
        details=details.items,
        details_next=details.next,
        subclasses=subclasses,
        text_from=given_by,
        names=_public_names(release, symbol),
        referrers=count_referrers(referrers, project, symbol.path),
        findings=findings,
        place=_place(release, symbol),
        file=symbol.file,
        line=symbol.line,
        end_line=symbol.end_line,
        source_url=_source_url(release, symbol),
        source_page=find_source_page(release, symbol.file, symbol.line),
        permanent=f"/ref/{quote(project.slug)}/{quote(release.version)}/{quote(symbol.path)}",
        interface=get_interface_view(release, symbol, texts) if symbol.interface is not None else None,
        data=get_data_view(release, symbol, texts),
        example=get_example_view(release, symbol),
        exercises=list_exercised(release, symbol) if symbol.example is not None else [],
        examples=list_examples(release, symbol.path, referrers),
    )
    return _with_new(release, with_supplements(page, told, given, texts))


def _with_new(release: Release, page: SymbolPage) -> SymbolPage:
    """The page with what the release before did not have."""
    before = find_predecessor(release)
    if before is None:
        return page
    members = [msgspec.structs.replace(m, is_new=not find_content(before.pk, m.path)) for m in page.members]
    return msgspec.structs.replace(page, members=members, is_new=not find_content(before.pk, page.path))


def _bases(family: Family, entry: SymbolEntry, texts: Texts) -> list[list[Piece]]:
    """The bases; those that are told of elsewhere than at the type have no mention of their own."""
    shown = [texts.type(base) for base in entry.bases]
    if all(any(p.href for p in pieces) for pieces in shown) or entry.kind not in TYPE_KINDS:
        return shown
    known = {r.entry.path: r for r in family.bases_of(Relative(family.release, entry))}
    for at, base in enumerate(entry.bases):
        found = known.get(base)
        if found is not None and not any(p.href for p in shown[at]):
            shown[at] = [Piece(found.entry.name, href_of_symbol(found.release, base), base)]
    return shown


def get_member_details(release: Release, path: str, after: Place, size: int, language: str = "") -> MemberDetails:
    """What a type's own members say in full, after one of them (the place in a cursor) or from the first. language: of
    the reader, as BCP 47 has it.

    Raises NotFound for a type that is not there, Problem for a member that is not.
    """
    entry = find_shown(release.pk, path)
    if entry is None:
        raise _absent(release, path)
    symbol = read_symbol(entry)
    return _details(Family(release), symbol, _links_of(release, symbol.path), after, size, language)


def _details(
    family: Family, symbol: Symbol, block: LinkBlock, after: Place, size: int, language: str = ""
) -> MemberDetails:  # fmt: skip
    if symbol.kind not in TYPE_KINDS:
        return MemberDetails([], None)
    release = family.release
    audience = audience_of_release(release)
    entries = [
        e for e in _unit_entries(release, symbol.path)
        if e.symbol.parent == symbol.path and _is_told(e.symbol) and audience.sees(e.symbol)
    ]  # fmt: skip
    entries.sort(key=lambda e: e.symbol.line)
    start = start_after(entries, lambda e: e.symbol.path, after)
    members = list(read_symbols(entries[start : start + size]))
    telling = Telling(family, ((entry.symbol, member) for entry, member in members))
    given = find_given(release, {member.path for _, member in members})
    made = []
    for _, member in members:
        doc, texts = telling.of(member, Texts(member.mentions, block.get(member.path, []), []))[:2]
        said = list(starmap(read_given, given.get(member.path, [])))
        made.append(_detail(release, member, doc, texts, said, language))
    following = None
    if start + size < len(entries):
        place = f"/api/v1/projects/{quote(release.project.slug)}/releases/{quote(release.version, safe='')}/members"
        following = f"{place}/{quote(symbol.path)}?cursor={make_cursor(entries[start + size - 1].symbol.path)}"
        following += f"&language={language}" if language else ""
    return MemberDetails(made, following)


def _is_told(entry: SymbolEntry) -> bool:
    """Fields that are declared like functions are told in full, too."""
    return entry.kind in _DETAILED or (entry.kind == "field" and entry.language in ("graphql", "protobuf"))


def _detail(
    release: Release, member: Symbol, doc: Doc, texts: Texts, given: list[Given], language: str
) -> MemberDetail:  # fmt: skip
    if not given:
        return _plain_detail(release, member, doc, texts)
    told = tell(told_by_source(member, doc), [g.supplement for g in given], language)
    return with_member_supplements(_plain_detail(release, member, shown_source(doc, told), texts), told, given)


def _plain_detail(release: Release, member: Symbol, doc: Doc, texts: Texts) -> MemberDetail:
    fields = _fields(doc, member, texts)
    return MemberDetail(
        path=member.path, name=member.name, kind=member.kind, href=href_of_symbol(release, member.path),
        flags=member.flags,
        signatures=[_signature(s, texts) for s in member.signatures], type=texts.type(member.type),
        summary=texts.line(doc.summary), body=texts.block(doc.body), parameters=fields["parameters"],
        returns=fields["returns"], raises=fields["raises"], deprecated=doc.deprecated is not None,
    )  # fmt: skip


def _signature_parts(release: Release, symbol: Symbol) -> list[Symbol]:
    """The members from which a class has its signature: the initialiser, or the fields."""
    if not symbol.signatures or symbol.kind not in ("class", "exception") or symbol.language != "python":
        return []
    members = [e for e in _unit_entries(release, symbol.path) if e.symbol.parent == symbol.path]
    initialiser = [e for e in members if e.symbol.name in ("__init__", "__new__")]
    fields = [e for e in members if e.symbol.kind == "attribute"]
    return [part for _, part in read_symbols(initialiser or fields)]


def _absent(release: Release, path: str) -> NotFound:
    for other in list_releases(release.project):
        if other.pk != release.pk and find_shown(other.pk, path) is not None:
            return NotFound(
                f"{release.project.slug} {release.version} has no {path}; {other.version} has it.",
                elsewhere=f"/ref/{release.project.slug}/{other.version}/{path}",
            )
    return NotFound(f"{release.project.slug} has no {path} in any release.")


def count_referrers(referrers: list[dict[str, str]], project: Project, path: str) -> ReferrerCount:
    """Who of some referrers refers to a symbol or guide, but for itself."""
    found = [r for r in referrers if (r["project"], r["path"]) != (project.slug, path)]
    return ReferrerCount(len(found), sorted({r["project"] for r in found}))


def _place(release: Release, symbol: Symbol) -> PagePlace | None:
    place = symbol.place
    page = next((r.entry for r in list_page_refs(release.pk) if r.entry.file == place.file), None) if place else None
    if place is None or page is None:
        return None
    link = Link("linked", "page", release.project.slug, release.version, page.path, place.anchor)
    return PagePlace(page.title, href_of(link), place.certainty)


def _parent(release: Release, symbol: Symbol) -> Crumb | None:
    entry = find_entry(release.pk, symbol.parent) if symbol.parent else None
    return crumb_of(release, entry.symbol) if entry else None


def _signature(signature: Signature, texts: Texts) -> SignatureView:
    parameters = [ParameterView(p.name, p.kind, texts.type(p.type), p.default) for p in signature.parameters]
    return SignatureView(parameters, texts.type(signature.returns), texts.type(break_declaration(signature.text)))


def _fields(doc: Doc, symbol: Symbol, texts: Texts) -> dict[str, list[FieldView]]:
    declared = {p.name: p for s in symbol.signatures for p in s.parameters}
    groups = {
        name: [_field(f, declared.get(f.name.lstrip("*")), texts) for f in getattr(doc, name)]
        for name in ("parameters", "returns", "yields", "raises", "attributes", "see")
    }
    returns = next((s.returns for s in symbol.signatures if s.returns), "")
    for name in ("returns", "yields"):
        groups[name] = [
            msgspec.structs.replace(f, type=texts.type(returns)) if not f.type and returns else f for f in groups[name]
        ]
    return groups


def _field(field: DocField, declared: Parameter | None, texts: Texts) -> FieldView:
    type_text = declared.type if declared and declared.type else field.type
    default = declared.default if declared else ""
    return FieldView(
        texts.name(field.name) if field.name else [], texts.type(type_text.strip("`")), texts.block(field.text),
        default, bool(default), field.optional,
    )  # fmt: skip


def _deprecated(doc: Doc, release: Release, path: str, texts: Texts) -> DeprecationView | None:
    if doc.deprecated is None:
        return None
    since = doc.deprecated.since or DatabaseResolutionContext(get_manifest(release.pk)).deprecated_in(
        release.project.slug, path, release.version
    )
    return DeprecationView(since, texts.line(doc.deprecated.text))


def _surroundings(
    family: Family, entry: SymbolEntry, holds: list[str], language: str
) -> tuple[list[MemberView], list[MemberView], list[Crumb]]:
    """holds: paths of what the element brings together beside its own members."""
    release = family.release
    gathered = [found.symbol for path in holds if (found := find_entry(release.pk, path)) is not None]
    own = [*_children(release, entry), *gathered]
    audience = audience_of_release(release)
    shown = with_told_summaries(release, in_order([e for e in own if audience.sees(e)]), language)
    if entry.kind not in TYPE_KINDS:
        return [_member(release, e) for e in shown], [], []
    at = Relative(release, entry)
    members = [_member(release, e, given=[] if e.summary else family.members_above(at, e.name)) for e in shown]
    heirs = [Crumb(h.path, h.name, href_of_symbol(release, h.path), h.kind) for h in family.heirs_of(entry.path)]
    return members, _inherited(family, at, {e.name for e in own}), heirs


def _children(release: Release, entry: SymbolEntry) -> list[SymbolEntry]:
    contents = get_contents(release.pk)
    block = get_module_block(contents.block_of(find_unit_of(contents, entry.path)))
    own = [e.symbol for e in (*block.entries, *block.outline) if e.symbol.parent == entry.path]
    if entry.kind in MODULE_KINDS:
        below = [m for m in contents.modules if m != entry.path and enclosing_of(m) == entry.path]
        nested = entry.language not in ("java", "kotlin", "go", "typescript", "javascript")
        own += [e.symbol for m in below if nested for e in _entries(contents.modules[m]) if e.symbol.path == m]
        own += _known_elsewhere(release, entry.path)
    return list({e.path: e for e in own}.values())


def _unit_entries(release: Release, path: str) -> list[BlockEntry]:
    contents = get_contents(release.pk)
    return _entries(contents.block_of(find_unit_of(contents, path)))


def _links_of(release: Release, path: str) -> LinkBlock:
    unit = find_unit_of(get_contents(release.pk), path)
    block = cached_link_document(get_link_map(release).modules.get(unit, 0))
    below = path + "."
    return {p: with_versions(release, links) for p, links in block.items() if p == path or p.startswith((below, path))}


def _entries(block: int) -> list[BlockEntry]:
    return get_module_block(block).entries if block else []


def _known_elsewhere(release: Release, module: str) -> list[SymbolEntry]:
    """What a module offers under its own name too, and what it defines that is known by another one."""
    found = []
    for alias in get_aliases(get_contents(release.pk).aliases).values():
        if (alias.public or alias.is_origin) and enclosing_of(alias.name) == module:
            entry = find_entry(release.pk, alias.path)
            if entry is not None and entry.symbol.kind not in ("module", "package"):
                found.append(entry.symbol)
    return found


def _member(release: Release, entry: SymbolEntry, *, given: Iterable[Relative] = ()) -> MemberView:
    """given: what the member overrides, whose summary it takes if it has none."""
    summary = entry.summary
    if not summary:
        summary = next((r.entry.summary for r in given if r.entry.summary), "")
    return MemberView(
        entry.path, label_of(entry), entry.kind, href_of_symbol(release, entry.path), _line_of(release, entry, summary),
        entry.deprecated is not None, "", entry.flags, entry.line,
    )  # fmt: skip


def _line_of(release: Release, entry: SymbolEntry, summary: str) -> SafeHtml:
    """A summary as it stands in lists; what it takes from another text is read for that."""
    found = find_entry(release.pk, entry.path) if USE_BEGINS in summary else None
    if found is None:
        return UNLINKED.line(summary)
    return Texts(read_symbol(found).mentions, _links_of(release, entry.path).get(entry.path, []), []).line(summary)


def label_of(entry: SymbolEntry) -> str:
    """A member's name, with the types of its parameters where overloads may differ by them."""
    above = enclosing_of(entry.path)
    rest = entry.path[len(above) :].lstrip(".:#/") if above else entry.path
    shown = rest.replace(",", ", ").replace(")const", ") const")
    return shown if rest.startswith(f"{entry.name}(") else entry.name


def _inherited(family: Family, of: Relative, seen: set[str]) -> list[MemberView]:
    """Public members of known bases that the class does not define itself, nearest base first.

    seen: the names of its own members.
    """
    audience = audience_of_release(family.release)
    found: list[MemberView] = []
    pending = list(family.bases_of(of))
    visited: set[tuple[int, str]] = set()
    while pending and len(found) < _MAX_INHERITED:
        base = pending.pop(0)
        key = (base.release.pk, base.entry.path)
        if key in visited:
            continue
        visited.add(key)
        shown = [
            m for members in family.members_of(base).values() for m in members if audience.sees(m) or LENT in m.flags
        ]
        found += [_foreign_member(base, member) for member in shown if member.name not in seen]
        seen |= {member.name for member in shown}
        pending += family.bases_of(base)
    return found[:_MAX_INHERITED]


def _foreign_member(base: Relative, member: SymbolEntry) -> MemberView:
    return MemberView(
        member.path, label_of(member), member.kind, href_of_symbol(base.release, member.path),
        UNLINKED.line(member.summary), member.deprecated is not None, base.entry.path, member.flags,
    )  # fmt: skip


def _public_names(release: Release, symbol: Symbol) -> list[str]:
    aliases = get_aliases(get_contents(release.pk).aliases)
    return sorted(a.name for a in aliases.values() if a.path == symbol.path and a.public)


def _source_url(release: Release, symbol: Symbol) -> str:
    manifest = get_manifest(release.pk)
    if not manifest.repository.startswith(("http://", "https://")) or not manifest.commit:
        return ""
    return f"{manifest.repository.rstrip('/')}/blob/{manifest.commit}/{symbol.file}#L{symbol.line}"
