"""Reading accounts, teams, sessions, tokens, and who did what."""

from __future__ import annotations

from datetime import timedelta

from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import Prefetch, Q, QuerySet
from django.utils import timezone

from zarbek.service.accounts.models import AuditEntry, SignIn, Team, Token
from zarbek.service.common.problems import NotFound


def list_tokens(user: int | None, projects: list[str] | None = None) -> list[Token]:
    """Tokens by name; their texts are not kept. Those that an account made, and those for some projects; all for
    None."""
    rows = Token.objects.select_related("user").order_by("name", "pk")
    return list(rows if user is None else rows.filter(Q(user=user) | Q(project__in=projects or [])))


def get_token(token_id: int) -> Token:
    """A token. Raises NotFound."""
    token = Token.objects.filter(pk=token_id).select_related("user").first()
    if token is None:
        raise NotFound("There is no such token.")
    return token


def list_people() -> QuerySet[User]:
    """All accounts with their teams, by name."""
    teams = Prefetch("teams", queryset=Team.objects.order_by("name"))
    return User.objects.order_by("username").select_related("identity").prefetch_related(teams)


def get_person(name: str) -> User:
    """An account by its name. Raises NotFound."""
    person = User.objects.filter(username=name).first()
    if person is None:
        raise NotFound(f"There is no account {name}.")
    return person


def list_teams() -> list[Team]:
    """All teams with who is in them, by name."""
    return list(Team.objects.prefetch_related("users"))


def get_team(name: str) -> Team:
    """A team by its name. Raises NotFound."""
    team = Team.objects.filter(name=name).first()
    if team is None:
        raise NotFound(f"There is no team {name}.")
    return team


def list_sign_ins(user: int) -> list[SignIn]:
    """The sessions of an account, the last used first."""
    return list(SignIn.objects.filter(user=user))


def list_audit(project: str = "", action: str = "", actor: str = "") -> QuerySet[AuditEntry]:
    """What was done, newest first: all, or to a project, of a kind, by somebody."""
    rows = AuditEntry.objects.all()
    for name, value in (("project", project), ("action", action), ("actor", actor)):
        if value:
            rows = rows.filter(**{name: value})
    return rows


def is_vouched_for(person: User) -> bool:
    """Whether the provider of identities has told of somebody lately; accounts of the portal's own need nobody to."""
    identity = getattr(person, "identity", None)
    return identity is None or identity.seen_at > timezone.now() - timedelta(days=settings.OIDC_TRUST_DAYS)
