"""Every change to projects, releases and aliases."""

from __future__ import annotations

from django.conf import settings
from django.db import transaction
from django.utils import timezone

from zarbek.core.linking.language_profile import family_of
from zarbek.core.linking.published import bare_address, names_at
from zarbek.core.linking.versions import is_prerelease, newest, supported_versions
from zarbek.core.model.bundle import Manifest
from zarbek.core.model.limits import MAX_SLUG
from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.actions.findable import find_what_counts, note_search_changes
from zarbek.service.catalog.actions.portal_changes import note_change
from zarbek.service.catalog.models import Alias, NameClaim, PortalChange, Project, Release, TreeAddress
from zarbek.service.catalog.queries import LATEST, list_choosable, list_releases
from zarbek.service.catalog.signals import changed, going, gone
from zarbek.service.catalog.visibility import GONE
from zarbek.service.common.batches import BATCH
from zarbek.service.common.deadlocks import retried_on_removal
from zarbek.service.common.problems import Conflict, NotFound, Problem, Refused

STABLE = "stable"


def ensure_project(slug: str, title: str = "") -> Project:
    """The project of a slug, made where there is none; title: its first one."""
    facts = {"title": (title or slug)[:200], "visibility": settings.NEW_PROJECTS}
    project, _ = Project.objects.get_or_create(slug=slug, defaults=facts)
    return project


def ensure_companion(project: Project) -> Project:
    """The project that holds what people write of another one in the portal, made where there is none. Raises Conflict
    where its name is taken."""
    known: Project | None = Project.objects.filter(beside=project).first()
    if known is not None:
        return known
    slug = f"{project.slug[: MAX_SLUG - 6]}-words"
    facts = {"title": f"{project.title[:180]}, in other words", "visibility": "public", "beside": project}
    made, is_new = Project.objects.get_or_create(slug=slug, defaults=facts)
    if not is_new and made.beside_id != project.pk:
        raise Conflict(f"What is written here of {project.slug} would be kept as {slug}, which is another project.")
    return made


def lock_project(project_id: int) -> None:
    """Until the end of the transaction nobody else changes what is kept of a project, or its findings."""
    Project.objects.select_for_update().filter(pk=project_id).values_list("pk", flat=True).first()


def describe_project(project: Project, manifest: Manifest) -> set[str]:
    """What the newest release says about its project becomes the project's own description; the plain
    names of which it, or another project, is owner since, or no longer is."""
    project.title = (manifest.title or project.slug)[:200]
    project.summary = manifest.summary
    project.owner = manifest.owner or project.owner
    project.save(update_fields=["title", "summary", "owner"])
    return claim_names(project, _claims_of(manifest))


def go_live(release: Release, version: str, manifest: Manifest) -> set[str]:
    """Make a stored release visible under its version and switch the aliases, at once. The names,
    with family, and package URLs that the project has now and had not before, or the other way
    round."""
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project_id)
        if release.is_preview:
            replaced = project.releases.filter(version=version, is_preview=True).exclude(pk=release.pk)
            note_search_changes(replaced.values_list("pk", flat=True))
            replaced.delete()
        release.version, release.is_live = version, True
        release.published_at = release.published_at or timezone.now()
        release.is_judged = release.is_preview
        release.save(update_fields=["version", "is_live", "published_at", "is_judged"])
        if not release.is_preview and not release.hold:
            _take_lines(project, release, manifest)
        switch_aliases(project)
        release.refresh_from_db(fields=["is_judged"])
        kind = "preview" if release.is_preview else "release"
        note(f"{kind}.published", project=project.slug, subject=version, after={"digest": release.bundle_digest})
        return describe_if_latest(project, release, manifest) | keep_tree_addresses(release, manifest)


def keep_tree_addresses(release: Release, manifest: Manifest) -> set[str]:
    """Say where a release's trees are published; the names of those addresses."""
    trees = [(bare_address(tree.address), tree.folder) for tree in manifest.trees]
    TreeAddress.objects.filter(release=release).delete()
    TreeAddress.objects.bulk_create(
        [TreeAddress(release=release, address=address[:700], folder=folder) for address, folder in trees if address]
    )
    return names_at(tree.address for tree in manifest.trees)


def describe_if_latest(project: Project, release: Release, manifest: Manifest) -> set[str]:
    """Take a project's facts from the manifest of its latest release; the names that changed hands by it."""
    latest = project.aliases.filter(name=LATEST).first()
    return describe_project(project, manifest) if latest is None or latest.release_id == release.pk else set()


def claim_names(project: Project, names: set[str]) -> set[str]:
    """Exactly these names are claimed; the names whose owner that changes.

    A name that somebody has stays his; one that its owner no longer claims goes to who asked next.
    """
    known = {claim.name: claim for claim in project.claims.all()}
    changed = (names - known.keys()) | (known.keys() - names)
    for name in sorted(known.keys() - names):
        was_held = known[name].held is not None
        known[name].delete()
        if was_held:
            _pass_on(name)
    for name in sorted(names - known.keys()):
        others = NameClaim.objects.filter(name=name)
        is_free = not others.exclude(held=None).exists() and not others.filter(is_shared=True).exists()
        NameClaim.objects.create(project=project, name=name, held=name if is_free else None)
    show_names(project)
    return changed


def _pass_on(name: str) -> None:
    heir = NameClaim.objects.filter(name=name).order_by("pk").first()
    if heir is not None and not heir.is_shared:
        heir.held = name
        heir.save(update_fields=["held"])
        show_names(heir.project)


def decide_name(name: str, projects: list[Project], person: str) -> None:
    """Give a name that several claim to one of them, or to some of them together. The others keep
    their claim and wait. Raises NotFound for who does not claim it."""
    claims = {claim.project_id: claim for claim in NameClaim.objects.select_for_update().filter(name=name)}
    for project in projects:
        if project.pk not in claims:
            raise NotFound(f"{project.slug} does not claim {name}.")
    chosen = {project.pk for project in projects}
    NameClaim.objects.filter(name=name).update(held=None, is_shared=False, decided_by=person)
    for pk in sorted(chosen):
        claim = claims[pk]
        claim.is_shared, claim.decided_by = len(chosen) > 1, person
        claim.held = None if claim.is_shared else name
        claim.save()
    for claim in claims.values():
        show_names(claim.project)
    note("name.decided", subject=name, after=sorted(project.slug for project in projects))


def show_names(project: Project) -> None:
    """Write down beside the project which of the names that it claims are its own."""
    held = [c.name for c in project.claims.all() if c.is_held]
    project.namespaces = [name for name in held if not _is_purl(name)]
    project.purl = next((name for name in held if _is_purl(name)), "")
    project.save(update_fields=["namespaces", "purl"])


def _is_purl(name: str) -> bool:
    return name.startswith("pkg:")


def plain_name(name: str) -> str:
    """A claimed name without its family of languages."""
    return name if _is_purl(name) else name.partition(":")[2]


def _take_lines(project: Project, release: Release, manifest: Manifest) -> None:
    """The newest release says which lines are supported and which team owns which files."""
    others = [r.version for r in list_releases(project, previews=False)]
    if newest([*others, release.version], project.ecosystem) == release.version:
        project.supported, project.owners = manifest.supported, manifest.owners
        project.save(update_fields=["supported", "owners"])


def check_label(slug: str, version: str) -> str:
    """The version, if no alias has that name. Raises Refused otherwise: the release could not be told
    from what the alias means."""
    if version.lower() in (LATEST, STABLE) or Alias.objects.filter(project__slug=slug, name=version).exists():
        raise Refused(f"{version} is a moving name for a release of {slug}, so no release can be called so.")
    return version


def switch_aliases(project: Project) -> None:
    """``latest``: the newest release, a final one if there is any. ``stable``: the newest final one.
    What the project's policy holds back counts for neither."""
    found = list_choosable(project)
    versions = {r.version: r.pk for r in found}
    latest = newest(versions, project.ecosystem)
    stable = newest((v for v in versions if not is_prerelease(v, project.ecosystem)), project.ecosystem)
    for name, version in ((LATEST, latest), (STABLE, stable)):
        if version:
            Alias.objects.update_or_create(project=project, name=name, defaults={"release_id": versions[version]})
    mark_judged(project, found)


def mark_judged(project: Project, releases: list[Release]) -> None:
    """releases: live ones that nothing holds back."""
    published = [r.version for r in sorted(releases, key=lambda r: (r.published_at, r.pk))]
    retired = {r.version for r in releases if r.support == "retired"}
    wanted = set(supported_versions(published, project.supported, retired, project.ecosystem))
    wanted |= {r.version for r in releases if r.support == "supported"}
    rows = project.releases.filter(is_live=True, is_preview=False)
    rows.filter(version__in=wanted).exclude(is_judged=True).update(is_judged=True)
    rows.exclude(version__in=wanted).filter(is_judged=True).update(is_judged=False)
    find_what_counts(project)


def set_support(release: Release, support: str) -> None:
    """support: ``supported``, ``retired``, or empty for the rule. What becomes judged by it is for
    the caller to link."""
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project_id)
        note("release.support", project=project.slug, subject=release.version, before=release.support, after=support)
        Release.objects.filter(pk=release.pk).update(support=support)
        switch_aliases(project)


def _claims_of(manifest: Manifest) -> set[str]:
    """``family:namespace`` for what a release provides, since languages of one family share names, and
    its package URL."""
    provides = manifest.provides or dict.fromkeys(manifest.languages or [""], manifest.namespaces)
    names = {f"{family_of(language)}:{name}" for language, names in provides.items() for name in names}
    return names | ({manifest.purl} if manifest.purl else set())


def remove_release(release: Release) -> None:
    """For good, with its pages and links. The aliases move on to what is left."""
    slug, version, pk = release.project.slug, release.version, release.pk
    change = _take_out(release)
    gone.send(Project, slug=slug, version=version, releases=[pk])
    changed.send(None, change=change)


@retried_on_removal
def _take_out(release: Release) -> PortalChange:
    version, pk = release.version, release.pk
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project.pk)
        going.send(Project, slug=project.slug, version=version)
        release.delete()
        switch_aliases(project)
        note_search_changes([pk])
        note("release.removed", project=project.slug, subject=version)
        return note_change(f"the removal of {project.slug} {version}", project=project.slug)


def remove_project(project: Project) -> None:
    """Nobody sees it from now on, and its slug is free; its rows go in steps, see ``erase_removed``."""
    slug = project.slug
    for companion in Project.objects.filter(beside=project):
        remove_project(companion)
        Project.everything.filter(pk=companion.pk).update(beside=None)
    with transaction.atomic():
        going.send(Project, slug=slug, version="")
        releases = list(project.releases.values_list("pk", flat=True))
        project.aliases.all().delete()
        project.releases.update(is_live=False, is_judged=False)
        namespaces = claim_names(project, set())
        Project.objects.filter(pk=project.pk).update(slug=f"{GONE}{project.pk}")
        note_search_changes(releases)
        note("project.removed", project=slug)
        change = note_change(f"the removal of {slug}", project=slug, namespaces=namespaces)
    gone.send(Project, slug=slug, version="", releases=releases)
    changed.send(None, change=change)


def erase_removed(budget: int = 20_000) -> bool:
    """Delete the rows of projects that were removed, so many at a time; whether none is left."""
    for project in Project.everything.filter(slug__startswith=GONE):
        for relation in Project._meta.related_objects:
            rows = relation.related_model._base_manager.filter(**{relation.field.name: project.pk})
            while pks := list(rows.order_by("pk").values_list("pk", flat=True)[:BATCH]):
                relation.related_model._base_manager.filter(pk__in=pks).delete()
                budget -= len(pks)
                if budget <= 0:
                    return False
        project.delete()
    return True


_SLUG_CHARS = frozenset("abcdefghijklmnopqrstuvwxyz0123456789-._")


def check_slug(slug: str) -> str:
    """The slug as it is. Raises Problem for what cannot be one."""
    if not slug or len(slug) > MAX_SLUG or set(slug) - _SLUG_CHARS or slug[0] in "-.":
        raise Problem(f"{slug!r} cannot be a project: use a to z, 0 to 9, hyphen, dot and underscore.")
    return slug
