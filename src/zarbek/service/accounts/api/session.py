"""Signing in, and tokens."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpResponse
from django.middleware.csrf import get_token
from rest_framework.request import Request

from zarbek.service.accounts.actions import create_token, revoke_token
from zarbek.service.accounts.models import Token
from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.accounts.queries import list_tokens
from zarbek.service.accounts.throttling import Few, client_of, count_use
from zarbek.service.common.api import ApiView, Slug, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Unauthorized

#: Password hashing is dear on purpose.
_HASHING = Few(2, "sign in", wait_s=3.0)


class SessionView(msgspec.Struct):
    """user: empty for nobody. csrf: what a browser's writes must carry. portal: its name."""

    user: str
    is_staff: bool
    csrf: str
    portal: str


class SignIn(msgspec.Struct):
    """What somebody signs in with."""

    user: Annotated[str, msgspec.Meta(max_length=150)]
    password: Annotated[str, msgspec.Meta(max_length=1024)]


class NewToken(msgspec.Struct):
    """project: the only one that it may publish, empty for all. days: how long it lasts, None for ever."""

    name: Slug
    project: Slug = ""
    days: Annotated[int, msgspec.Meta(ge=1, le=3650)] | None = None


class TokenView(msgspec.Struct):
    """text: the token itself, only in the answer that made it."""

    id: int
    name: str
    project: str
    created_at: datetime
    expires_at: datetime | None
    last_used_at: datetime | None
    text: str = ""


class Session(ApiView):
    """Who is signed in, signing in and out."""

    @describe(id="getSession", answer=SessionView)
    def get(self, request: Request) -> HttpResponse:
        """Who is signed in."""
        response = json_response(request, _session(request))
        response["Cache-Control"] = "no-store"
        return response

    @describe(id="signIn", answer=SessionView, body=SignIn)
    def post(self, request: Request) -> HttpResponse:
        """Sign in with a name and password."""
        body = read_body(request, SignIn)
        count_use("sign-in from", client_of(request), most=30, span_s=300)
        count_use("sign-in as", f"{client_of(request)} {body.user}", most=10, span_s=300)
        with _HASHING:
            user = authenticate(request._request, username=body.user, password=body.password)
        if user is None:
            raise Unauthorized("The name or the password is not right.")
        login(request._request, user)
        request.user = user
        return json_response(request, _session(request))

    @describe(id="signOut", status=204)
    def delete(self, request: Request) -> HttpResponse:
        """Sign out."""
        logout(request._request)
        return HttpResponse(status=204)


def _session(request: Request) -> SessionView:
    user = request.user
    return SessionView(user.get_username(), user.is_staff, get_token(request._request), settings.PORTAL_NAME)


class Tokens(ApiView):
    """The tokens that programs sign in with."""

    @describe(id="listTokens", answer=list[TokenView])
    def get(self, request: Request) -> HttpResponse:
        """Tokens by name; their texts are not kept."""
        require_administrator(request)
        return json_response(request, [_token(t) for t in list_tokens()])

    @describe(
        id="createToken",
        answer=TokenView,
        status=201,
        body=NewToken,
    )
    def post(self, request: Request) -> HttpResponse:
        """Make a token. Its text is in this answer and nowhere else."""
        require_administrator(request)
        body = read_body(request, NewToken)
        token, text = create_token(user=request.user, name=body.name, project=body.project, days=body.days)
        response = json_response(request, _token(token, text))
        response.status_code = 201
        return response


def _token(token: Token, text: str = "") -> TokenView:
    return TokenView(token.pk, token.name, token.project, token.created_at, token.expires_at, token.last_used_at, text)


class TokenDetail(ApiView):
    """One token."""

    @describe(id="revokeToken", status=204)
    def delete(self, request: Request, token_id: int) -> HttpResponse:
        """Revoke a token at once."""
        require_administrator(request)
        revoke_token(token_id)
        return HttpResponse(status=204)
