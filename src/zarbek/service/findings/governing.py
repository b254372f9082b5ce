"""Every change to policies, support, holds and outside namespaces."""

from __future__ import annotations

from collections.abc import Collection

import msgspec
from django.db import transaction

from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.actions import describe_if_latest, set_support, switch_aliases
from zarbek.service.catalog.models import OutsideNamespace, Project, Release
from zarbek.service.common.problems import Conflict, Problem
from zarbek.service.findings.actions import close_line, judge_again, judge_others, keep_linked
from zarbek.service.findings.policy import read_policy
from zarbek.service.links.affected import affected_by_namespaces
from zarbek.service.publishing.actions import renew_pages


def set_policy(project: Project, body: dict[str, object]) -> dict[str, object]:
    gate = read_policy(body)
    project.policy = msgspec.to_builtins(gate) if gate is not None else {}
    project.save(update_fields=["policy"])
    return project.policy


def change_support(release: Release, support: str) -> Release:
    """Retire a release, keep it supported, or leave it to the rule. What is judged again is linked
    at once; a line that is no longer judged has no findings that stand."""
    if release.is_preview:
        raise Problem("A preview is always judged; it is neither supported nor retired.")
    if release.aliases.filter(name="latest").exists() and support == "retired":
        raise Conflict(f"{release.version} is latest, which cannot be retired.")
    was_judged = release.is_judged
    set_support(release, support)
    release.refresh_from_db()
    if release.is_judged and not was_judged:
        keep_linked(release, judge_again(release, None, _nothing), f"{release.project.slug} {release.version}", 0)
    elif was_judged and not release.is_judged:
        close_line(release)
    renew_pages()
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
        switch_aliases(project)
        manifest = msgspec.json.decode(release.manifest, type=Manifest)
        brought = describe_if_latest(project, release, manifest)
    release.refresh_from_db()
    if release.is_judged:
        keep_linked(release, judge_again(release, None, _nothing), f"{project.slug} {release.version}", 0)
    judge_others(release, brought, 0, _nothing)
    renew_pages()
    return release


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
    _judge_users({name for name, pattern in wanted.items() if known.get(name, "") != pattern})
    renew_pages()
    return dict(OutsideNamespace.objects.values_list("name", "pattern"))


def _judge_users(names: Collection[str]) -> None:
    for release in Release.objects.filter(pk__in=affected_by_namespaces(names)).select_related("project"):
        keep_linked(release, judge_again(release, None, _nothing), "outside addresses", 0)


def _nothing() -> None:
    return None
