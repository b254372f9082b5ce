"""Signing in and out."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

import msgspec
from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.http import HttpResponse
from django.middleware.csrf import get_token
from rest_framework.request import Request

from zarbek.service.accounts.actions.people import end_sign_ins, set_password
from zarbek.service.accounts.permissions import require_scope, require_someone
from zarbek.service.accounts.queries import list_sign_ins
from zarbek.service.accounts.throttling import Few, client_of, count_use
from zarbek.service.common.api import ApiView, describe, read_body
from zarbek.service.common.conditional import json_response
from zarbek.service.common.problems import Forbidden, NotFound, Unauthorized

#: Password hashing is dear on purpose.
_HASHING = Few(2, "sign in", wait_s=3.0)


class SessionView(msgspec.Struct):
    """user: empty for nobody. csrf: what a browser's writes must carry. portal: its name. provider: where people sign
    in by OpenID Connect, and what that is called; empty where they do not. preview: whether this is no portal but a
    working tree as one would show it."""

    user: str
    is_staff: bool
    csrf: str
    portal: str
    provider: str = ""
    preview: bool = False


class SignIn(msgspec.Struct):
    """What somebody signs in with."""

    user: Annotated[str, msgspec.Meta(max_length=150)]
    password: Annotated[str, msgspec.Meta(max_length=1024)]


class SignInView(msgspec.Struct):
    """A session of the asker. agent: what its browser says that it is. is_this: whether it is the one that asks."""

    id: int
    created_at: datetime
    seen_at: datetime
    address: str
    agent: str
    is_this: bool


class NewPassword(msgspec.Struct):
    """Old and new."""

    old: Annotated[str, msgspec.Meta(max_length=1024)]
    new: Annotated[str, msgspec.Meta(max_length=1024)]


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
    return SessionView(
        user.get_username(), user.is_staff, get_token(request._request), settings.PORTAL_NAME, settings.OIDC_NAME,
        settings.PREVIEW,
    )  # fmt: skip


class Password(ApiView):
    """One's own password."""

    @describe(id="changePassword", status=204, body=NewPassword)
    def put(self, request: Request) -> HttpResponse:
        """Change one's own password; every session of the account ends."""
        require_someone()
        require_scope("manage")
        body = read_body(request, NewPassword)
        count_use("password of", request.user.get_username(), most=10, span_s=300)
        with _HASHING:
            if not request.user.check_password(body.old):
                raise Forbidden("The old password is not right.")
            set_password(request.user, body.new)
        return HttpResponse(status=204)


class SignIns(ApiView):
    """One's own sessions."""

    @describe(id="listSessions", answer=list[SignInView])
    def get(self, request: Request) -> HttpResponse:
        """Where one is signed in, the last used first."""
        require_someone()
        this = request._request.session.session_key
        found = [
            SignInView(s.pk, s.created_at, s.seen_at, s.address, s.agent, s.session_key == this)
            for s in list_sign_ins(request.user.pk)
        ]
        return json_response(request, found)


class SignInDetail(ApiView):
    """One of one's own sessions."""

    @describe(id="endSession", status=204)
    def delete(self, request: Request, sign_in_id: int) -> HttpResponse:
        """End a session at once."""
        require_someone()
        if not end_sign_ins(request.user, sign_in_id):
            raise NotFound("There is no such session of yours.")
        return HttpResponse(status=204)
