"""Every change to accounts."""

from __future__ import annotations

import secrets
from collections.abc import Callable
from datetime import datetime, timedelta
from hashlib import sha256

from django.contrib.auth.models import User
from django.db import IntegrityError, transaction
from django.db.models import F, Q
from django.utils import timezone

from zarbek.service.accounts.models import FirstRun, Tally, Token
from zarbek.service.common.problems import NotFound, Problem

PREFIX = "zbk_"
_USE_GRAIN = timedelta(minutes=1)


def digest_token(text: str) -> str:
    """What is kept of a token: its SHA-256, in hexadecimal digits."""
    return sha256(text.encode()).hexdigest()


def create_token(
    *, user: User, name: str, project: str = "", days: int | None = None, text: str = ""
) -> tuple[Token, str]:
    """A new token and its text, which is not kept. Raises Problem for a bad name or term."""
    if not name.strip() or len(name) > 100:
        raise Problem("A token needs a name of 1 to 100 characters, to know it again.")
    if days is not None and not 1 <= days <= 3650:
        raise Problem("A token lives 1 to 3650 days.")
    text = text or PREFIX + secrets.token_urlsafe(32)
    expires: datetime | None = timezone.now() + timedelta(days=days) if days else None
    token = Token.objects.create(
        name=name.strip(), digest=digest_token(text), user=user, project=project, expires_at=expires
    )
    return token, text


def note_use(token: Token) -> None:
    """Say that a token was used, to the minute."""
    now = timezone.now()
    stale = Q(last_used_at=None) | Q(last_used_at__lt=now - _USE_GRAIN)
    Token.objects.filter(stale, pk=token.pk).update(last_used_at=now)


def revoke_token(token_id: int) -> None:
    """End a token at once. Raises NotFound."""
    deleted, _ = Token.objects.filter(pk=token_id).delete()
    if not deleted:
        raise NotFound("There is no such token.")


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


def add_to_tally(key: str, span_s: float) -> tuple[int, datetime]:
    """Count one more under a key, for all processes together: (how many since the span began, when it ends)."""
    now = timezone.now()
    running = Tally.objects.filter(key=key, until__gt=now)
    if not running.update(count=F("count") + 1):
        until = now + timedelta(seconds=span_s)
        if Tally.objects.filter(key=key).update(count=1, until=until):
            return 1, until
        try:
            Tally.objects.create(key=key, count=1, until=until)
            return 1, until
        except IntegrityError:  # Another process was first.
            running.update(count=F("count") + 1)
    tally = running.values_list("count", "until").first()
    return tally if tally is not None else (1, now)


def forget_tallies() -> None:
    """Counts whose span of time is over."""
    Tally.objects.filter(until__lt=timezone.now()).delete()
