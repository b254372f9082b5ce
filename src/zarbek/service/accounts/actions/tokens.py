"""Tokens from their making to their end."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import datetime, timedelta
from hashlib import sha256

from django.contrib.auth.models import User
from django.db import transaction
from django.db.models import Q
from django.utils import timezone

from zarbek.service.accounts.actions.audit import note
from zarbek.service.accounts.models import FirstRun, Token
from zarbek.service.common.asker import SCOPES
from zarbek.service.common.problems import Conflict, NotFound, Problem

PREFIX = "zbk_"
_USE_GRAIN = timedelta(minutes=1)
MOST_DAYS = 3650
#: Hours for which an old token goes on beside the new one, if nothing else is said.
OVERLAP_HOURS = 24


def digest_token(text: str) -> str:
    """What is kept of a token: its SHA-256, in hexadecimal digits."""
    return sha256(text.encode()).hexdigest()


@transaction.atomic
def create_token(
    *, user: User, name: str, project: str = "", scope: str = "", days: int | None = None, text: str = ""
) -> tuple[Token, str]:
    """A new token and its text, which is not kept. scope: what for; if left out, to publish a project or, for none, to
    manage all. Raises Problem for a bad name, scope or term."""
    if not name.strip() or len(name) > 100:
        raise Problem("A token needs a name of 1 to 100 characters, to know it again.")
    if days is not None and not 1 <= days <= MOST_DAYS:
        raise Problem(f"A token lives 1 to {MOST_DAYS} days.")
    scope = scope or ("publish" if project else "manage")
    if scope not in SCOPES:
        raise Problem(f"A token is made to {', '.join(SCOPES[:-1])} or {SCOPES[-1]}, not to {scope[:20]!r}.")
    text = text or PREFIX + secrets.token_urlsafe(32)
    expires: datetime | None = timezone.now() + timedelta(days=days) if days else None
    token = Token.objects.create(
        name=name.strip(), digest=digest_token(text), user=user, project=project, expires_at=expires, scope=scope
    )
    note("token.made", project=project, subject=token.name, after=_facts(token))
    return token, text


@transaction.atomic
def rotate_token(token: Token, overlap_hours: int = OVERLAP_HOURS) -> tuple[Token, str]:
    """A token in the place of another, and its text. The old one goes on for so many hours, so that whoever has it can
    change over; the new one lives as long as the old one did. Raises Conflict for one that has ended."""
    now = timezone.now()
    if token.expires_at is not None and token.expires_at <= now:
        raise Conflict(f"The token {token.name!r} has ended. Make a new one.")
    text = PREFIX + secrets.token_urlsafe(32)
    life = token.expires_at - token.created_at if token.expires_at is not None else None
    made = Token.objects.create(
        name=token.name, digest=digest_token(text), user=token.user, project=token.project, scope=token.scope,
        expires_at=now + life if life is not None else None,
    )  # fmt: skip
    until = now + timedelta(hours=overlap_hours)
    token.expires_at = until if token.expires_at is None else min(token.expires_at, until)
    token.save(update_fields=["expires_at"])
    note("token.rotated", project=token.project, subject=token.name, after=_facts(made))
    return made, text


def note_use(token: Token) -> None:
    """Say that a token was used, to the minute."""
    now = timezone.now()
    stale = Q(last_used_at=None) | Q(last_used_at__lt=now - _USE_GRAIN)
    Token.objects.filter(stale, pk=token.pk).update(last_used_at=now)


@transaction.atomic
def revoke_token(token: Token) -> None:
    """End a token at once. Raises NotFound where it has ended already."""
    facts = _facts(token)
    if not Token.objects.filter(pk=token.pk).delete()[0]:
        raise NotFound("There is no such token.")
    note("token.revoked", project=token.project, subject=token.name, before=facts)


def drop_tokens(slug: str, version: str, **_: object) -> None:
    """Tokens for a project that goes go with it."""
    if not version:
        Token.objects.filter(project=slug).delete()


@transaction.atomic
def make_first_administrator(make_secrets: Callable[[], tuple[str, str]]) -> bool:
    """Make the administrator of a portal that never had one, from a new password and a new token's text; whether
    it had none. What these are called for and do lasts only as long as the administrator does."""
    _, is_first = FirstRun.objects.get_or_create(pk=1)
    if is_first:
        password, text = make_secrets()
        user = User(username="admin", is_staff=True, is_superuser=True)
        user.set_password(password)
        user.save()
        create_token(user=user, name="first administrator", text=text)
    return is_first


def _facts(token: Token) -> dict[str, object]:
    expires = token.expires_at.isoformat() if token.expires_at else None
    return {"project": token.project, "scope": token.scope, "expires_at": expires}
