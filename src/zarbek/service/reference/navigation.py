"""Where a reader is: the project's modules and guides, and what stands around the page at hand."""

from __future__ import annotations

from urllib.parse import quote

import msgspec

from zarbek.core.editions.visibility import Audience, audience_of
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.naming import enclosing_of, lies_in
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import list_releases
from zarbek.service.content.queries import get_contents, get_manifest, get_module_block, list_page_refs
from zarbek.service.reference.page_data import Crumb, Navigation

_GROUP_ORDER = (
    "api",
    "package",
    "module",
    "namespace",
    "topic",
    "operation",
    "schema",
    "message",
    "service",
    "input",
    "scalar",
    "directive",
    "element",
    "complex type",
    "simple type",
    "element group",
    "attribute group",
    "notation",
    "response",
    "parameter",
    "primitive",
    "class",
    "object",
    "interface",
    "trait",
    "record",
    "struct",
    "union",
    "enum",
    "annotation",
    "concept",
    "exception",
    "delegate",
    "type",
    "macro",
    "function",
    "constant",
    "variable",
    "member",
    "constructor",
    "attribute",
    "field",
    "property",
    "event",
    "method",
    "operator",
)
_MAX_CRUMBS = 120


def crumb_of(release: Release, entry: SymbolEntry, *, depth: int = 0, current: str = "") -> Crumb:
    """A symbol as it stands in a list; current: the path of the page that is shown."""
    return Crumb(entry.path, entry.name, href_of_symbol(release, entry.path), entry.kind, depth, entry.path == current)


def href_of_symbol(release: Release, path: str) -> str:
    """Where a symbol's page is, in its release."""
    return f"/ref/{quote(release.project.slug)}/{quote(release.version)}/{quote(path)}"


def navigation_of(release: Release, module: str, current: str) -> Navigation:
    """The project's modules, with the members of the one at hand, and its guides."""
    contents = get_contents(release.pk)
    modules: list[Crumb] = []
    hidden = set(contents.hidden)
    for name in sorted(contents.modules):
        if (
            name in contents.empty
            or name in hidden
            or enclosing_of(name) in hidden
            or any(part.startswith("_") for part in name.split("."))
        ):
            continue
        title = contents.titles.get(name, name)
        modules.append(Crumb(name, title, href_of_symbol(release, name), "module", 0, name == current))
        if name == module:
            block = get_module_block(contents.modules[name])
            rows = [*block.entries, *block.outline]
            top = [e.symbol for e in rows if e.symbol.parent == name and audience_of_release(release).sees(e.symbol)]
            modules += [
                crumb_of(release, e, depth=1, current=_top_of(current, name)) for e in _near(in_order(top), current)
            ]
    versions = [r.version for r in list_releases(release.project)]
    return Navigation(
        release.project.slug, release.project.title, release.version, _newest(release), versions, modules,
        guide_crumbs(release, current),
    )  # fmt: skip


def _near(entries: list[SymbolEntry], current: str) -> list[SymbolEntry]:
    """Those around the one at hand, where a module has more than a reader would go through."""
    if len(entries) <= _MAX_CRUMBS:
        return entries
    at = next((n for n, e in enumerate(entries) if lies_in(current, e.path)), 0)
    start = min(max(at - _MAX_CRUMBS // 2, 0), len(entries) - _MAX_CRUMBS)
    return entries[start : start + _MAX_CRUMBS]


def _top_of(path: str, module: str) -> str:
    """The outermost symbol of a module that a path lies in."""
    while (above := enclosing_of(path)) and above != module and len(above) > len(module):
        path = above
    return path


def _newest(release: Release) -> str:
    alias = release.project.aliases.filter(name="latest").select_related("release").first()
    return alias.release.version if alias else release.version


def guide_crumbs(release: Release, current: str = "") -> list[Crumb]:
    """The guides of a release in their order; current: the path of the one that is shown."""
    base = f"/guide/{quote(release.project.slug)}/{quote(release.version)}/"
    refs = [ref.entry for ref in list_page_refs(release.pk)]
    return [
        Crumb(p.path, p.title, base + quote(p.path), "guide", p.depth, p.path == current)
        for p in sorted(refs, key=lambda p: (p.order < 0, p.order, p.path))
    ]


def audience_of_release(release: Release) -> Audience:
    """Whom a release is made for."""
    return audience_of(get_manifest(release.pk).options)


def in_order(entries: list[SymbolEntry]) -> list[SymbolEntry]:
    """By kind, then as declared, or by name where many files declare; overloads stand together."""
    if len({e.file for e in entries}) > 1:
        entries = [
            msgspec.structs.replace(e, line=n) for n, e in enumerate(sorted(entries, key=lambda e: e.name.lower()))
        ]
    first: dict[tuple[str, str], int] = {}
    for e in sorted(entries, key=lambda e: e.line):
        first.setdefault((e.kind, e.name), e.line)
    return sorted(
        entries,
        key=lambda e: (
            _GROUP_ORDER.index(e.kind) if e.kind in _GROUP_ORDER else 99,
            first[e.kind, e.name],
            e.name,
            e.line,
        ),
    )
