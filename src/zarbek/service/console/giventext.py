"""Text that a member takes from what it overrides, in whatever project that stands."""

from __future__ import annotations

from dataclasses import dataclass
from urllib.parse import quote

import msgspec

from zarbek.core.findings.surroundings import texts_of
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.linking.targets import Target
from zarbek.core.model.doctext import INHERIT, Doc, DocField
from zarbek.core.model.naming import parameter_types
from zarbek.core.model.symbol import Symbol
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import find_release
from zarbek.service.console.lookup import PageLookup
from zarbek.service.console.texts import Texts
from zarbek.service.console.views import Crumb
from zarbek.service.links.queries import get_link_map, links_in
from zarbek.service.reference.queries import (
    find_entry,
    find_unit_of,
    get_contents,
    read_symbol,
)  # fmt: skip

_KINDS = frozenset({"method", "property", "operator", "event"})
_GROUPS = ("parameters", "type_parameters", "returns", "raises")


@dataclass(frozen=True, slots=True)
class GivenText:
    doc: Doc
    texts: Texts
    source: Crumb


def wants_text(symbol: Symbol) -> bool:
    """Whether a member has no text, or asks for that of what it overrides."""
    if symbol.kind not in _KINDS:
        return False
    doc = symbol.doc
    return doc is None or not (doc.summary or doc.body) or any(INHERIT in text for text in texts_of(doc))


def told_of(lookup: PageLookup, entry: SymbolEntry, symbol: Symbol, texts: Texts) -> tuple[Doc, Texts, Crumb | None]:
    """The doc text as readers see it, with what renders it and where parts of it come from, if from elsewhere."""
    doc = symbol.doc or Doc()
    given = find_given_text(lookup, entry) if wants_text(symbol) else None
    if given is None:
        return doc, texts, None
    return with_given_text(doc, given), texts.joined(given.texts), given.source


def find_given_text(lookup: PageLookup, entry: SymbolEntry) -> GivenText | None:
    """The text of the nearest overridden member that has one, or None."""
    owner = lookup.index.symbols.get(entry.parent)
    if owner is None:
        return None
    params = parameter_types(entry.path)
    for target in lookup.resolver(entry.language).members_above(lookup.index, owner, entry.name):
        if target.entry.summary and _overrides(params, target):
            return _read(lookup.release, target)
    return None


def _overrides(params: tuple[str, ...] | None, target: Target) -> bool:
    types = parameter_types(target.entry.path)
    return types is None or params is None or len(types) == len(params)


def _read(release: Release, target: Target) -> GivenText | None:
    index, path = target.index, target.entry.path
    origin = release
    if index.project != release.project.slug:
        other = release.project.__class__.objects.filter(slug=index.project).first()
        origin = find_release(other, index.version) if other else None  # type: ignore[assignment]
    found = find_entry(origin.pk, path) if origin is not None else None
    if found is None:
        return None
    symbol = read_symbol(found)
    unit = find_unit_of(get_contents(origin.pk), path)
    links = links_in(origin, get_link_map(origin).modules.get(unit, 0), path)
    href = f"/ref/{quote(index.project)}/{quote(index.version)}/{quote(path)}"
    return GivenText(symbol.doc or Doc(), Texts(symbol.mentions, links, []), Crumb(path, target.entry.name, href))


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
