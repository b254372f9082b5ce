"""Every change to policies, support, holds and outside namespaces."""

from __future__ import annotations

import msgspec
from django.db import transaction

from zarbek.core.findings.gates import Gate, unknown_names
from zarbek.core.model.bundle import Manifest
from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.actions.portal_changes import note_change
from zarbek.service.catalog.actions.projects import describe_if_latest, set_support, switch_aliases
from zarbek.service.catalog.models import OutsideNamespace, Project, Release
from zarbek.service.catalog.signals import changed, judging_ended
from zarbek.service.common.problems import Conflict, Problem


def set_policy(project: Project, body: dict[str, object]) -> dict[str, object]:
    """Keep when releases are held back; an empty body ends that. Raises Problem."""
    gate, before = read_policy(body), project.policy
    project.policy = msgspec.to_builtins(gate) if gate is not None else {}
    with transaction.atomic():
        project.save(update_fields=["policy"])
        note("project.policy", project=project.slug, before=before, after=project.policy)
    return project.policy


def change_support(release: Release, support: str) -> Release:
    """Retire a release, keep it supported, or leave it to the rule. Raises Problem for a preview, Conflict for
    retiring what is latest."""
    if release.is_preview:
        raise Problem("A preview is always judged; it is neither supported nor retired.")
    if release.aliases.filter(name="latest").exists() and support == "retired":
        raise Conflict(f"{release.version} is latest, which cannot be retired.")
    was_judged, change = release.is_judged, None
    with transaction.atomic():
        set_support(release, support)
        release.refresh_from_db()
        if release.is_judged and not was_judged:
            change = note_change(_called(release), project=release.project.slug, release=release.pk)
    if change is not None:
        changed.send(None, change=change)
    elif was_judged and not release.is_judged:
        judging_ended.send(None, release=release)
    return release


def override_hold(release: Release, person: str, why: str) -> Release:
    """Raises Conflict for a release that nothing holds, Problem without a reason."""
    if not release.hold:
        raise Conflict(f"Nothing holds {release.version} back.")
    if len(why.strip()) < 3:
        raise Problem("Say why, for those who ask later.")
    with transaction.atomic():
        project = Project.objects.select_for_update().get(pk=release.project_id)
        Release.objects.filter(pk=release.pk).update(released_by=person, released_why=why.strip())
        release.refresh_from_db()
        note("release.let-through", project=project.slug, subject=release.version, before=release.held_for, after=why)
        switch_aliases(project)
        manifest = msgspec.json.decode(release.manifest, type=Manifest)
        namespaces = describe_if_latest(project, release, manifest)
        change = note_change(_called(release), project=project.slug, release=release.pk, namespaces=namespaces)
    release.refresh_from_db()
    changed.send(None, change=change)
    return release


def _called(release: Release) -> str:
    return f"{release.project.slug} {release.version}"


def set_outside(wanted: dict[str, str]) -> dict[str, str]:
    """Raises Problem for an address that is none, or that has no place for the name."""
    known = dict(OutsideNamespace.objects.values_list("name", "pattern"))
    for name, pattern in wanted.items():
        if not name or len(name) > 200:
            raise Problem(f"{name!r} is no namespace.")
        if pattern and (not pattern.startswith(("https://", "http://")) or len(pattern) > 500):
            raise Problem(f"{pattern!r} is no address of the web.")
    with transaction.atomic():
        for name, pattern in wanted.items():
            if pattern:
                OutsideNamespace.objects.update_or_create(name=name, defaults={"pattern": pattern})
            else:
                OutsideNamespace.objects.filter(name=name).delete()
        note("portal.outside", before={name: known.get(name, "") for name in wanted}, after=wanted)
        names = {name for name, pattern in wanted.items() if known.get(name, "") != pattern}
        change = note_change("outside addresses", namespaces=names) if names else None
    if change is not None:
        changed.send(None, change=change)
    return dict(OutsideNamespace.objects.values_list("name", "pattern"))


def read_policy(body: dict[str, object]) -> Gate | None:
    """A project's policy; None for none. Raises Problem for one that names what does not exist."""
    if not body:
        return None
    try:
        gate = msgspec.convert(body, Gate)
    except msgspec.ValidationError as error:
        raise Problem(f"The policy does not fit: {error}") from error
    if unknown := unknown_names(gate):
        raise Problem(f"There is no family or rule {', '.join(unknown)}.")
    return gate
