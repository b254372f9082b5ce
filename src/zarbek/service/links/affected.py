"""Which texts of the portal a release touches."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator
from functools import partial

from django.db.models import QuerySet

from zarbek.core.linking.changed_names import changed_names
from zarbek.core.linking.dependency_trace import RELEASES
from zarbek.core.linking.versions import sort_key
from zarbek.service.catalog.models import HEAVY, PortalChange, Project, Release
from zarbek.service.catalog.queries import list_choosable
from zarbek.service.common.batches import batched
from zarbek.service.content.queries import HeldText, get_manifest, held, load_index
from zarbek.service.links.actions.keep_links import keep_choice
from zarbek.service.links.actions.link_texts import DEPENDENCIES
from zarbek.service.links.documents import Text
from zarbek.service.links.models import Dependence, Referrer
from zarbek.service.links.queries import names_of
from zarbek.service.links.resolution_context import choose_version

#: All texts of a release.
ALL: None = None


def list_judged() -> Iterator[Release]:
    """Every release whose references are judged, by id."""
    rows = Release.objects.filter(is_live=True, is_judged=True).select_related("project")
    yield from rows.order_by("pk")


def affected_texts(
    release: Release, namespaces: Collection[str], only: int | None = None
) -> dict[int, set[Text] | None]:
    """Id of a judged release to its texts that may mean something else now that a release is live.

    namespaces: ``family:namespace``, or a namespace of any family, and package URLs that its project
    provides now and did not before, or the other way round. only: the id of the release to look at, which need not
    be live. Cost: by the releases that ask for the project, and the texts that ask for names that differ.
    """
    found: dict[int, set[Text] | None] = {}
    for own in _judged(only).filter(project=release.project).exclude(pk=release.pk):
        found[own.pk] = ALL
    for pk in _waiting(namespaces, only):
        if pk != release.pk:
            found[pk] = ALL
    for names, sources, is_moved in _touched(release, skip=found, only=only):
        for pk in sources if is_moved else ():
            found.setdefault(pk, set()).add(DEPENDENCIES)  # type: ignore[union-attr]
        for pk, text in _texts_asking(release.project.slug, names, sources):
            known = found.setdefault(pk, set())
            if known is not ALL:
                known.add(text)
    return found


def texts_touched(change: PortalChange, only: int | None = None) -> dict[int, set[Text] | None]:
    """The same for a change of the portal, of whatever kind; the release that went live is left out."""
    release = Release.objects.filter(pk=change.release, is_live=True).select_related("project").first()
    if release is not None:
        return affected_texts(release, change.namespaces, only)
    asking = set(_waiting(change.namespaces, only))
    if change.project:
        asking |= set(_dependences(only).filter(project=change.project).values_list("release_id", flat=True))
        asking |= set(_judged(only).filter(project__slug=change.project).values_list("pk", flat=True))
    return dict.fromkeys(asking, ALL)


def _judged(only: int | None = None) -> QuerySet[Release]:
    if only is not None:
        return Release.objects.filter(pk=only)
    return Release.objects.filter(is_live=True, is_judged=True)


def _dependences(only: int | None) -> QuerySet[Dependence]:
    if only is not None:
        return Dependence.objects.filter(release_id=only)
    return Dependence.objects.filter(release__is_live=True, release__is_judged=True)


def _waiting(namespaces: Collection[str], only: int | None) -> Iterable[int]:
    wanted = names_of(namespaces)
    if wanted is None:
        return []
    return list(_dependences(only).filter(wanted).values_list("release_id", flat=True).distinct())


def _touched(
    release: Release, skip: Collection[int], only: int | None
) -> Iterator[tuple[frozenset[str] | None, dict[int, Release], bool]]:
    """(names, releases to look into by id, whether they mean another release now): releases that see
    the same difference, together.

    None stands for every name of the project.
    """
    project = release.project
    index = load_index(release.pk)
    versions = {r.version: r.pk for r in list_choosable(project)}
    if not release.is_preview:
        versions.setdefault(index.version, release.pk)  # One that is tried only.
    groups: dict[tuple[str, str, bool], dict[int, Release]] = defaultdict(dict)
    rows = _dependences(only).filter(project=project.slug)
    for row in rows.select_related("release", "release__project").defer(*(f"release__{f}" for f in HEAVY)):
        if row.release_id in skip or row.release.project_id == project.pk:
            continue
        chosen = choose_version(get_manifest(row.release_id), project, versions)
        is_past = bool(chosen) and sort_key(index.version, project.ecosystem) < sort_key(chosen, project.ecosystem)
        groups[row.version, chosen, is_past][row.release_id] = row.release
    for (before, after, is_past), releases in groups.items():
        if before and before not in versions:
            yield None, releases, True  # A preview that is gone, or a release that was deleted.
            continue
        yield _difference(release, versions, before, after, is_past), releases, before != after


def move_choices(project: Project) -> None:
    """Releases whose references mean another release of a project now say so, whether or not that touches a text."""
    versions = [r.version for r in list_choosable(project)]
    for row in _dependences(None).filter(project=project.slug).select_related("release").only(
        "version", "release__choices", "release__project_id"
    ):  # fmt: skip
        chosen = choose_version(get_manifest(row.release_id), project, versions)
        if (row.version, row.release.choices.get(project.slug, "")) != (chosen, chosen):
            keep_choice(row.release, project.slug, partial(_choice_now, row.release_id, project))


def _choice_now(release_id: int, project: Project) -> str:
    return choose_version(get_manifest(release_id), project, [r.version for r in list_choosable(project)])


def _difference(
    release: Release, versions: dict[str, int], before: str, after: str, is_past: bool
) -> frozenset[str] | None:
    if not before and after:
        return None
    names: frozenset[str] = frozenset({RELEASES})
    if before != after:
        names |= changed_names(load_index(versions[before]), load_index(versions[after]))
    if is_past:
        names |= changed_names(load_index(release.pk), load_index(versions[after]))
    return names


def _texts_asking(
    project: str, names: frozenset[str] | None, releases: dict[int, Release]
) -> Iterator[tuple[int, Text]]:
    """(release id, text) of releases that hold content which asks for one of the names."""
    by_project: dict[int, list[int]] = defaultdict(list)
    for pk, release in releases.items():
        by_project[release.project_id].append(pk)
    rows = Referrer.objects.filter(project=project, source__in=list(by_project))
    wanted = [rows] if names is None else [rows.filter(path__in=batch) for batch in batched(sorted(names), 1000)]
    texts: set[HeldText] = set()
    for query in wanted:
        symbols = query.filter(symbol__isnull=False).values_list("source_id", "symbol_id", "symbol__path")
        pages = query.filter(page__isnull=False).values_list("source_id", "page_id", "page__path")
        for kind, found in (("symbol", symbols), ("page", pages)):
            for source, content, path in found.distinct():
                texts.update((pk, kind, path, content) for pk in by_project[source])
    for pk, kind, path, _ in held(texts):
        yield pk, (kind, path)
