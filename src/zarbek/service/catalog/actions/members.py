"""Who may read a project, and who has which part in it."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.db import transaction

from zarbek.service.accounts.actions.audit import note
from zarbek.service.accounts.models import Team
from zarbek.service.catalog.models import Membership, Project
from zarbek.service.catalog.visibility import VISIBILITIES, forget_hidden
from zarbek.service.common.problems import Conflict, NotFound, Problem

#: Each may do what those before it may.
ROLES = ("reader", "maintainer", "owner")


@transaction.atomic
def set_visibility(project: Project, visibility: str) -> None:
    """Raises Problem for a word that is none of VISIBILITIES."""
    if visibility not in VISIBILITIES:
        raise Problem(f"A project is {', '.join(VISIBILITIES[:-1])} or {VISIBILITIES[-1]}, not {visibility[:20]!r}.")
    before = project.visibility
    project.visibility = visibility
    project.save(update_fields=["visibility"])
    note("project.visibility", project=project.slug, before=before, after=visibility)
    forget_hidden()


@transaction.atomic
def set_member(project: Project | None, *, user: User | None = None, team: Team | None = None, role: str) -> Membership:
    """Give somebody, or a team, a part in a project, or in all for None. Raises Problem for no role."""
    if role not in ROLES:
        raise Problem(f"A member is {', '.join(ROLES[:-1])} or {ROLES[-1]}, not {role[:20]!r}.")
    known = Membership.objects.select_for_update().filter(project=project, user=user, team=team).first()
    before = known.role if known is not None else None
    member = known or Membership(project=project, user=user, team=team)
    member.role = role
    member.save()
    note("member.set", project=_slug(project), subject=_called(member), before=before, after=role)
    return member


@transaction.atomic
def remove_member(project: Project | None, *, user: User | None = None, team: Team | None = None) -> None:
    """Raises NotFound for who has no part, and Conflict for the last owner of a project that only members may read."""
    member = Membership.objects.filter(project=project, user=user, team=team).first()
    if member is None:
        raise NotFound("Nobody of that name is a member.")
    others = Membership.objects.filter(project=project, role="owner").exclude(pk=member.pk)
    if project is not None and project.visibility == "teams" and member.role == "owner" and not others.exists():
        raise Conflict(f"{project.slug} needs an owner: only its members may read it.")
    note("member.removed", project=_slug(project), subject=_called(member), before=member.role)
    member.delete()


def _slug(project: Project | None) -> str:
    return project.slug if project is not None else ""


def _called(member: Membership) -> str:
    return f"team {member.team.name}" if member.team is not None else member.user.username
