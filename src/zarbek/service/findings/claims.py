"""Names that several projects say are theirs: both owners are told until an administrator decides."""

from __future__ import annotations

from django.db import transaction

from zarbek.core.findings.fingerprints import fingerprint
from zarbek.core.findings.rules import SEVERITIES
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.actions.portal_changes import note_change
from zarbek.service.catalog.actions.projects import decide_name, plain_name
from zarbek.service.catalog.models import NameClaim, PortalChange, Project, Release
from zarbek.service.catalog.queries import LATEST, contested_names, get_project
from zarbek.service.catalog.signals import changed
from zarbek.service.common.problems import NotFound
from zarbek.service.findings.actions.finding_history import FindingHistory
from zarbek.service.publishing.actions.cache_epoch import renew_pages

RULE = "text/contested-name"


def tell_claims(project: Project) -> None:
    """Keep what is contested between a project and others as findings of each of them."""
    names = list(project.claims.values_list("name", flat=True))
    others = NameClaim.objects.filter(name__in=names).exclude(project=project)
    for slug in sorted({project.slug, *others.values_list("project__slug", flat=True)}):
        keep_claims(get_project(slug))


def keep_claims(project: Project) -> None:
    """Keep the findings about contested names of a project's latest release as they are now."""
    release = Release.objects.filter(project=project, aliases__name=LATEST).first()
    if release is None:
        return
    history = FindingHistory(project, release.version, 0)
    if not history.judge(lambda: _findings(project), part="claims", cause="names").is_empty:
        renew_pages([project.slug])


def keep_claims_about(change: PortalChange) -> None:
    """The same for every project that claims a name that changed hands."""
    claims = NameClaim.objects.filter(name__in=change.namespaces)
    for slug in sorted(set(claims.values_list("project__slug", flat=True))):
        keep_claims(get_project(slug))


def _findings(project: Project) -> list[Finding]:
    own = {claim.name: claim for claim in project.claims.all()}
    rivals: dict[str, list[str]] = {}
    others = NameClaim.objects.filter(name__in=contested_names(own)).exclude(project=project)
    for name, slug, visibility in others.values_list("name", "project__slug", "project__visibility"):
        rivals.setdefault(name, []).append(slug if visibility == "public" else "")
    return [_finding(project.slug, own[name], slugs) for name, slugs in sorted(rivals.items())]


def _finding(slug: str, claim: NameClaim, rivals: list[str]) -> Finding:
    """rivals: slugs, an empty one for a project that not everybody may know of."""
    named = sorted(filter(None, rivals))
    others = [*named, "another project"] if len(named) < len(rivals) else named
    name, told = plain_name(claim.name), " and ".join(others)
    told = told[0].upper() + told[1:] if not named else told
    says = f"{told} says that {name} is its own" if len(others) == 1 else f"{told} say that {name} is their own"
    kept = f"It stays with {slug}" if claim.is_held else f"It was there first, and {slug} has it not"
    return Finding(
        RULE, SEVERITIES[RULE], "", f"{says}, as {slug} does. {kept} until an administrator decides.",
        subject_kind="project", text=name, target=f"{named[0]}/" if named else "",
        fingerprint=fingerprint(RULE, slug, claim.name),
    )  # fmt: skip


def settle_name(name: str, slugs: list[str], person: str) -> list[NameClaim]:
    """An administrator gives a contested name to one project, or to several together; the claims after
    it. References that ask for such names are looked at again. Raises NotFound."""
    if not NameClaim.objects.filter(name=name).exists():
        raise NotFound(f"No project claims {name}.")
    with transaction.atomic():
        decide_name(name, [get_project(slug) for slug in slugs], person)
        claims = list(NameClaim.objects.filter(name=name).select_related("project"))
        changes = [note_change("names", project=claim.project.slug, namespaces=[name]) for claim in claims]
    for change in changes:
        changed.send(None, change=change)
    return claims
