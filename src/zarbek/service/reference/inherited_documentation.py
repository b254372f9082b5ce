"""Text that a member takes from what it overrides, in whatever project that stands."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

import msgspec

from zarbek.core.findings.mention_context import texts_of
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.doc_text import INHERIT, Doc, DocField
from zarbek.core.model.naming import parameter_types
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import (
    find_entry,
    find_exact,
    find_unit_of,
    get_contents,
    read_symbols,
)  # fmt: skip
from zarbek.service.links.queries import get_link_map, links_in
from zarbek.service.reference.linked_texts import Texts
from zarbek.service.reference.navigation import href_of_symbol
from zarbek.service.reference.page_data import Crumb
from zarbek.service.reference.type_hierarchy import Family, Relative

_KINDS = frozenset({"method", "property", "operator", "event"})
_GROUPS = ("parameters", "type_parameters", "returns", "raises")


@dataclass(frozen=True, slots=True)
class GivenText:
    """Text that a member has from another. source: that one."""

    doc: Doc
    texts: Texts
    source: Crumb


def wants_text(symbol: Symbol) -> bool:
    """Whether a member has no text, or asks for that of what it overrides."""
    if symbol.kind not in _KINDS:
        return False
    doc = symbol.doc
    return doc is None or not (doc.summary or doc.body) or any(INHERIT in text for text in texts_of(doc))


class Telling:
    """The doc texts of some symbols of a page as readers see them."""

    def __init__(self, family: Family, told: Iterable[tuple[SymbolEntry, Symbol]]) -> None:
        """told: those that may be asked for. Cost: few queries for each release that gives some of them text."""
        givers = {
            entry.path: target
            for entry, symbol in told
            if wants_text(symbol) and (target := find_giver(family, entry)) is not None
        }
        self._given = _read(givers)

    def of(self, symbol: Symbol, texts: Texts) -> tuple[Doc, Texts, Crumb | None]:
        """The doc text, what renders it, and where parts of it come from, if from elsewhere."""
        doc, given = symbol.doc or Doc(), self._given.get(symbol.path)
        if given is None:
            return doc, texts, None
        return with_given_text(doc, given), texts.joined(given.texts), given.source


def find_giver(family: Family, entry: SymbolEntry) -> Relative | None:
    """The nearest overridden member that has text, or None."""
    owner = find_exact(family.release.pk, entry.parent) if entry.parent else None
    if owner is None:
        return None
    params = parameter_types(entry.path)
    above = family.members_above(Relative(family.release, owner.symbol), entry.name)
    return next((r for r in above if r.entry.summary and _overrides(params, r.entry)), None)


def _overrides(params: tuple[str, ...] | None, above: SymbolEntry) -> bool:
    types = parameter_types(above.path)
    return types is None or params is None or len(types) == len(params)


def _read(givers: Mapping[str, Relative]) -> dict[str, GivenText]:
    """Path of a member to what it is given."""
    found: dict[str, GivenText] = {}
    by_release: dict[int, dict[str, list[str]]] = defaultdict(lambda: defaultdict(list))
    releases = {giver.release.pk: giver.release for giver in givers.values()}
    for member, giver in givers.items():
        by_release[giver.release.pk][giver.entry.path].append(member)
    for pk, members in by_release.items():
        for path, given in _read_from(releases[pk], members):
            found.update((member, given) for member in members[path])
    return found


def _read_from(origin: Release, paths: Iterable[str]) -> Iterator[tuple[str, GivenText]]:
    contents, link_map = get_contents(origin.pk), get_link_map(origin)
    entries = [entry for path in paths if (entry := find_entry(origin.pk, path)) is not None]
    for entry, symbol in read_symbols(entries):
        path = entry.symbol.path
        links = links_in(origin, link_map.modules.get(find_unit_of(contents, path), 0), path)
        source = Crumb(path, entry.symbol.name, href_of_symbol(origin, path))
        yield path, GivenText(symbol.doc or Doc(), Texts(symbol.mentions, links, []), source)


def with_given_text(doc: Doc, given: GivenText) -> Doc:
    """The doc text with each part that is missing, or asked for, taken from the other."""
    parent = given.doc
    merged = msgspec.structs.replace(
        doc, summary=doc.summary.replace(INHERIT, parent.summary) or parent.summary,
        body=doc.body.replace(INHERIT, f"{parent.summary}\n\n{parent.body}") or (parent.body if not doc.body else ""),
        sections=doc.sections or parent.sections,
    )  # fmt: skip
    return msgspec.structs.replace(merged, **{g: _filled(getattr(doc, g), getattr(parent, g)) for g in _GROUPS})


def _filled(own: list[DocField], parent: list[DocField]) -> list[DocField]:
    given = {field.name: field.text for field in parent}
    known = {field.name for field in own}
    asking = (msgspec.structs.replace(f, text=f.text.replace(INHERIT, given.get(f.name, ""))) for f in own)
    return [*asking, *(field for field in parent if field.name not in known)]
