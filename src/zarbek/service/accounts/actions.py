"""Every change to accounts."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from hashlib import sha256

from django.contrib.auth.models import User
from django.utils import timezone

from zarbek.service.accounts.models import Token
from zarbek.service.common.problems import NotFound, Problem

PREFIX = "zbk_"


def digest_token(text: str) -> str:
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


def revoke_token(token_id: int) -> None:
    deleted, _ = Token.objects.filter(pk=token_id).delete()
    if not deleted:
        raise NotFound("There is no such token.")
