"""Where a reader is: the project's modules and guides, and what stands around the page at hand."""

from __future__ import annotations

from typing import TypeVar
from urllib.parse import quote

import msgspec

from zarbek.core.editions.numbering import NO_NUMBERS
from zarbek.core.editions.visibility import Audience
from zarbek.core.linking.index import SymbolEntry
from zarbek.core.model.naming import enclosing_of, lies_in
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.queries import LATEST, list_releases
from zarbek.service.common.compute_once import remembering
from zarbek.service.content.editions import audience_for, edition_name_of, list_allowed, reads_all
from zarbek.service.content.queries import find_shown, get_contents, get_manifest, get_module_block, list_page_refs
from zarbek.service.reference.guide_numbers import numbers_of
from zarbek.service.reference.page_data import Crumb, EditionChoice, Navigation

_GROUP_ORDER = (
    "api",
    "package",
    "module",
    "namespace",
    "topic",
    "database",
    "table",
    "view",
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
    "procedure",
    "trigger",
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
    "block",
)
_RANKS = {kind: n for n, kind in enumerate(_GROUP_ORDER)}
_MAX_CRUMBS = 120
#: Of each project, where many are listed.
_FIRST = 12
T = TypeVar("T")


def crumb_of(release: Release, entry: SymbolEntry, *, depth: int = 0, current: str = "") -> Crumb:
    """A symbol as it stands in a list; current: the path of the page that is shown."""
    return Crumb(entry.path, entry.name, href_of_symbol(release, entry.path), entry.kind, depth, entry.path == current)


def href_of_symbol(release: Release, path: str) -> str:
    """Where a symbol's page is, in its release."""
    return f"/ref/{quote(release.project.slug)}/{quote(release.version)}/{quote(path)}"


def navigation_of(release: Release, module: str, current: str) -> Navigation:
    """The modules around the one at hand, with its members, and the guides around the one that is shown."""
    listed = list_modules(release)
    modules: list[Crumb] = []
    near = _near(listed, next((n for n, m in enumerate(listed) if m.path == module), 0))
    for crumb in near:
        modules.append(msgspec.structs.replace(crumb, current=crumb.path == current))
        if crumb.path == module:
            modules += _members_near(release, module, current)
    guides = guide_crumbs(release, current)
    shown = _near(guides, next((n for n, g in enumerate(guides) if g.current), 0))
    return _navigation(release, modules, shown, len(listed) - len(near), len(guides) - len(shown))


def whole_navigation(release: Release) -> Navigation:
    """All modules and guides of a release."""
    return _navigation(release, list_modules(release), guide_crumbs(release), 0, 0)


def first_of_navigation(release: Release) -> Navigation:
    """The first modules and guides of a newest release, to choose from many projects."""
    modules, guides = list_modules(release), guide_crumbs(release)
    return Navigation(
        release.project.slug, release.project.title, release.version, release.version, [release.version],
        modules[:_FIRST], guides[:_FIRST], max(len(modules) - _FIRST, 0), max(len(guides) - _FIRST, 0),
    )  # fmt: skip


def list_modules(release: Release) -> list[Crumb]:
    """The modules that readers of a release see, by path."""
    edition = edition_name_of(get_manifest(release.pk))
    shown = _in_edition(release.pk, edition) if edition else _shown(release.pk)
    return [Crumb(name, title, href_of_symbol(release, name), "module", 0, False) for name, title in shown]


@remembering(100_000, lambda modules: 1 + len(modules))
def _in_edition(release_id: int, edition: str) -> tuple[tuple[str, str], ...]:
    """The same for an edition, which is that of whoever asks."""
    return tuple(module for module in _shown(release_id) if find_shown(release_id, module[0]) is not None)


@remembering(100_000, lambda modules: 1 + len(modules))
def _shown(release_id: int) -> tuple[tuple[str, str], ...]:
    """(path, title) of the modules that are not hidden and have something to read."""
    contents = get_contents(release_id)
    hidden, empty = set(contents.hidden), set(contents.empty)
    names = (n for n in sorted(contents.modules) if n not in empty and n not in hidden)
    return tuple(
        (name, contents.titles.get(name, name)) for name in names
        if enclosing_of(name) not in hidden and not any(part.startswith("_") for part in name.split("."))
    )  # fmt: skip


def _members_near(release: Release, module: str, current: str) -> list[Crumb]:
    block = get_module_block(get_contents(release.pk).modules[module])
    rows, sees = [*block.entries, *block.outline], audience_of_release(release).sees
    entries = in_order([e.symbol for e in rows if e.symbol.parent == module and sees(e.symbol)])
    top = _top_of(current, module)
    at = next((n for n, e in enumerate(entries) if lies_in(current, e.path)), 0)
    return [crumb_of(release, e, depth=1, current=top) for e in _near(entries, at)]


def _navigation(
    release: Release, modules: list[Crumb], guides: list[Crumb], more_modules: int, more_guides: int
) -> Navigation:
    project, versions = release.project, [r.version for r in list_releases(release.project)]
    return Navigation(project.slug, project.title, release.version, _newest(release), versions, modules, guides,
                      more_modules, more_guides, list_editions(release))  # fmt: skip


def list_editions(release: Release) -> list[EditionChoice]:
    """The editions that the reader may choose from; none where there is no choice. All of it comes first, for whoever
    may read that."""
    manifest = get_manifest(release.pk)
    if not manifest.editions:
        return []
    current = edition_name_of(manifest)
    names = [*([""] if reads_all(manifest) else []), *list_allowed(manifest)]
    titles = {"": "All of it", **{name: edition.title or name for name, edition in manifest.editions.items()}}
    return [EditionChoice(n, titles[n], n == current) for n in names] if len(names) > 1 else []


def _near(entries: list[T], at: int) -> list[T]:
    """Those around the one at hand, where there are more than a reader would go through."""
    start = max(min(at - _MAX_CRUMBS // 2, len(entries) - _MAX_CRUMBS), 0)
    return entries[start : start + _MAX_CRUMBS]


def _top_of(path: str, module: str) -> str:
    """The outermost symbol of a module that a path lies in."""
    while (above := enclosing_of(path)) and above != module and len(above) > len(module):
        path = above
    return path


def _newest(release: Release) -> str:
    newest = release.project.aliases.filter(name=LATEST).values_list("release__version", flat=True).first()
    return str(newest or release.version)


def guide_crumbs(release: Release, current: str = "") -> list[Crumb]:
    """The guides of a release in their order; current: the path of the one that is shown."""
    base = f"/guide/{quote(release.project.slug)}/{quote(release.version)}/"
    pages = [ref.entry for ref in list_page_refs(release.pk)]
    numbers = numbers_of(release).pages
    titles = {page.file: page.title for page in pages}
    # Of a page and the one that sends its readers there, one is in the contents.
    refs = [
        page for page in pages
        if page.path == current or (titles.get(page.moved_to) != page.title and "contents" not in page.hidden)
    ]  # fmt: skip
    return [
        Crumb(p.path, p.title, base + quote(p.path), "guide", p.depth, p.path == current,
              numbers.get(p.path, NO_NUMBERS).number)
        for p in sorted(refs, key=lambda p: (p.order < 0, p.order, p.path))
    ]  # fmt: skip


def audience_of_release(release: Release) -> Audience:
    """Whom what is read now of a release is for."""
    return audience_for(get_manifest(release.pk))


def in_order(entries: list[SymbolEntry]) -> list[SymbolEntry]:
    """By kind, then as declared, or by name where many files declare; overloads stand together."""
    if len({e.file for e in entries}) > 1:
        rows = list(enumerate(sorted(entries, key=lambda e: e.name.lower())))
    else:
        rows = [(e.line, e) for e in sorted(entries, key=lambda e: e.line)]
    first: dict[tuple[str, str], int] = {}
    for place, e in rows:
        first.setdefault((e.kind, e.name), place)
    rows.sort(key=lambda row: (_RANKS.get(row[1].kind, 99), first[row[1].kind, row[1].name], row[1].name, row[0]))
    return [e for _, e in rows]
