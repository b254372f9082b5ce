"""Sessions of browsers, and bearer tokens (RFC 6750)."""

from __future__ import annotations

from collections.abc import MutableMapping
from io import BytesIO
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user
from django.contrib.auth.models import User
from django.contrib.sessions.backends.db import SessionStore
from django.core.handlers.asgi import ASGIRequest
from django.http import HttpRequest
from django.utils import timezone
from rest_framework.authentication import BaseAuthentication, SessionAuthentication
from rest_framework.request import Request

from zarbek.service.accounts.actions.people import note_seen
from zarbek.service.accounts.actions.tokens import digest_token, note_use
from zarbek.service.accounts.models import Token
from zarbek.service.accounts.queries import is_vouched_for
from zarbek.service.common.asker import Asker, asker_of
from zarbek.service.common.problems import Unauthorized


class TokenAuthentication(BaseAuthentication):
    """Signs programs in by a bearer token (RFC 6750, section 2.1)."""

    def authenticate(self, request: Request) -> tuple[User, Token] | None:
        """The token's maker and the token; None for a request without one. Raises Unauthorized."""
        scheme, _, text = request.headers.get("Authorization", "").partition(" ")
        if scheme.lower() != "bearer":
            return None
        token = Token.objects.select_related("user__identity").filter(digest=digest_token(text.strip())).first()
        now = timezone.now()
        if token is None or not token.user.is_active:
            raise Unauthorized("The token is not known. Make a new one under your account.")
        if token.expires_at and token.expires_at < now:
            raise Unauthorized(f"The token {token.name!r} expired on {token.expires_at:%d %B %Y}.")
        if not is_vouched_for(token.user):
            raise Unauthorized(f"The token {token.name!r} rests until its maker signs in again.")
        note_use(token)
        return token.user, token

    def authenticate_header(self, request: Request) -> str:
        """What WWW-Authenticate says to those who must sign in."""
        return "Bearer"


class BrowserSession(SessionAuthentication):
    """Signs people in by the session of their browser, and notes that it is used."""

    def authenticate(self, request: Request) -> tuple[User, None] | None:
        """Who is signed in; None for nobody. Raises PermissionDenied for a write without its token against forgery."""
        found = super().authenticate(request)
        if found is not None:
            note_seen(request._request.session.session_key or "")
        return found


def asker_of_scope(scope: MutableMapping[str, Any]) -> Asker:
    """Who a request is from that no view has seen yet (ASGI, HTTP connection scope). Raises as authenticating does."""
    request = ASGIRequest(scope, BytesIO())
    request.session = SessionStore(request.COOKIES.get(settings.SESSION_COOKIE_NAME))
    request.user = get_user(request)
    return asker_of_http(request)


def asker_of_http(request: HttpRequest) -> Asker:
    """Who a request is from that comes to no view of the API. Raises as authenticating does."""
    return asker_of(Request(request, authenticators=[TokenAuthentication(), BrowserSession()]))
