"""Bearer tokens (RFC 6750)."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.utils import timezone
from rest_framework.authentication import BaseAuthentication
from rest_framework.request import Request

from zarbek.service.accounts.actions import digest_token, note_use
from zarbek.service.accounts.models import Token
from zarbek.service.common.problems import Unauthorized


class TokenAuthentication(BaseAuthentication):
    """Signs programs in by a bearer token (RFC 6750, section 2.1)."""

    def authenticate(self, request: Request) -> tuple[User, Token] | None:
        """The token's maker and the token; None for a request without one. Raises Unauthorized."""
        scheme, _, text = request.headers.get("Authorization", "").partition(" ")
        if scheme.lower() != "bearer":
            return None
        token = Token.objects.select_related("user").filter(digest=digest_token(text.strip())).first()
        now = timezone.now()
        if token is None or not token.user.is_active:
            raise Unauthorized("The token is not known. Make a new one under your account.")
        if token.expires_at and token.expires_at < now:
            raise Unauthorized(f"The token {token.name!r} expired on {token.expires_at:%d %B %Y}.")
        note_use(token)
        return token.user, token

    def authenticate_header(self, request: Request) -> str:
        """What WWW-Authenticate says to those who must sign in."""
        return "Bearer"
