"""Who refers to what, in all releases that are judged: ask before you change."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from fnmatch import fnmatchcase

import msgspec

from zarbek.core.findings.owners import owner_of
from zarbek.core.linking.index import ReleaseIndex
from zarbek.core.linking.link import Link
from zarbek.core.model.mention import Mention
from zarbek.core.model.mention_places import file_of
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import list_releases
from zarbek.service.common.batches import batched
from zarbek.service.common.problems import NotFound
from zarbek.service.content.queries import find_shown, held, is_shown, list_page_refs, load_index, read_text
from zarbek.service.links.comparison import compare, find_predecessor
from zarbek.service.links.models import Referrer
from zarbek.service.links.own_referrers import own_referrers_of
from zarbek.service.links.queries import get_link_map, judged_by_project, links_of_text, with_versions

MAX_TARGETS = 20_000
MAX_PLACES = 20_000
MAX_PATTERN_RELEASES = 3


class Place(msgspec.Struct, frozen=True, omit_defaults=True):
    """Where a target is named. via: the name used, where that is an inherited or offered-on one."""

    kind: str
    path: str
    file: str
    line: int
    text: str
    origin: str
    target: str
    via: str = ""
    owner: str = ""


class Referring(msgspec.Struct, frozen=True):
    """One release's places, by file and line."""

    project: str
    version: str
    owner: str
    places: list[Place]


class Impact(msgspec.Struct, frozen=True):
    """asked: what was asked about. targets: how many symbols that is. projects counts those of
    others than the asked one. more: whether places were left out."""

    project: str
    asked: str
    targets: int
    places: int
    projects: int
    owners: list[str]
    referring: list[Referring]
    more: bool = False


def impact_of_pattern(release: Release, pattern: str) -> Impact:
    """pattern: a symbol's name, with all that is in it; or a pattern in which ``*`` stands for any
    text. Raises NotFound for one that fits nothing."""
    older = [r for r in list_releases(release.project, previews=False) if r.pk != release.pk]
    # What is gone is asked about, too; a pattern is held against everything in a few of the newest releases only.
    for known in (release, *(older[:MAX_PATTERN_RELEASES] if _is_pattern(pattern) else older)):
        if paths := _paths_of(known, pattern):
            return _impact(release.project, pattern, paths)
    raise NotFound(f"{release.project.slug} has nothing named {pattern} in any release.")


def _paths_of(release: Release, pattern: str) -> list[str]:
    """Cost for a name that is not there: a look into one module."""
    if _is_pattern(pattern):
        index = load_index(release.pk)
        return [p for p, e in index.symbols.items() if fnmatchcase(p, pattern) and is_shown(release.pk, e)]
    entry = find_shown(release.pk, pattern)
    paths = _with_members(load_index(release.pk), entry.symbol.path) if entry is not None else []
    return [*paths, pattern] if any(ref.entry.path == pattern for ref in list_page_refs(release.pk)) else paths


def _is_pattern(text: str) -> bool:
    return "*" in text or "?" in text


def impact_of_release(release: Release) -> Impact:
    """Who refers to what a release removes or changes in a way that breaks callers."""
    before = find_predecessor(release)
    changes = compare(before.pk, release.pk).changes if before is not None else []
    old = load_index(before.pk) if before is not None else None
    paths: list[str] = []
    for change in changes:
        if change.breaks:
            path = change.was or change.path
            paths += _with_members(old, path) if old is not None and change.kind in ("removed", "moved") else [path]
    return _impact(release.project, release.version, list(dict.fromkeys(paths)))


def _with_members(index: ReleaseIndex, path: str) -> list[str]:
    """A symbol and all that is in it."""
    found, pending = [], [path]
    while pending and len(found) < MAX_TARGETS:
        at = pending.pop()
        found.append(at)
        pending += index.members.get(at, ())
    return found


def _impact(project: Project, asked: str, paths: Collection[str]) -> Impact:
    texts = texts_referring(project, paths)
    wanted = {(project.slug, path) for path in paths}
    referring, left = [], MAX_PLACES
    for release, found in sorted(texts.items(), key=lambda item: (item[0].project.slug, item[0].version)):
        places = sorted(_places(release, found, wanted), key=lambda p: (p.file, p.line, p.text))[:left]
        left -= len(places)
        if places:
            referring.append(Referring(release.project.slug, release.version, release.project.owner, places))
    others = {r.project for r in referring if r.project != project.slug}
    owners = {p.owner for r in referring if r.project != project.slug for p in r.places if p.owner}
    total = sum(len(r.places) for r in referring)
    return Impact(project.slug, asked, len(paths), total, len(others), sorted(owners), referring, more=left <= 0)


def texts_referring(project: Project, paths: Collection[str]) -> dict[Release, set[tuple[str, str]]]:
    """The texts, as kind and path, of each judged release that refer to some of these."""
    found: dict[Release, set[tuple[str, str]]] = defaultdict(set)
    rows: set[tuple[str, int, int, str]] = set()
    for batch in batched(paths, 1000):
        query = Referrer.objects.filter(project=project.slug, path__in=batch, is_target=True)
        for kind in ("symbol", "page"):
            values = query.filter(**{f"{kind}__isnull": False}).values_list("source_id", f"{kind}_id", f"{kind}__path")
            rows.update((kind, *row) for row in values)
    releases = judged_by_project({row[1] for row in rows})
    texts = {
        (release.pk, kind, path, content): release
        for kind, source, content, path in rows
        for release in releases.get(source, ())
    }
    for text in held(texts):
        found[texts[text]].add(text[1:3])
    for release in judged_by_project({project.pk}).get(project.pk, ()):
        if within := own_referrers_of(release, paths):
            found[release] |= within
    return found


def _places(release: Release, texts: Iterable[tuple[str, str]], wanted: Collection[tuple[str, str]]) -> Iterable[Place]:
    link_map = get_link_map(release)
    owners, default = release.project.owners, release.project.owner
    for kind, path in texts:
        links = with_versions(release, links_of_text(release, link_map, kind, path))
        text = read_text(release.pk, kind, path)
        if text is None:
            continue
        owner = owner_of(text.file, owners, default)
        for mention, link in zip(text.mentions, links, strict=True):
            if (link.project, link.path or link.wanted) in wanted:
                yield _place(kind, path, file_of(text, mention), mention, link, owner)


def _place(kind: str, path: str, file: str, mention: Mention, link: Link, owner: str) -> Place:
    return Place(
        kind, path, file, mention.line, mention.text, mention.origin, link.path or link.wanted, link.via, owner
    )
