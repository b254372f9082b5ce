"""Tokens that programs sign in with."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.actions.tokens import OVERLAP_HOURS, create_token, revoke_token, rotate_token
from zarbek.service.accounts.models import Token
from zarbek.service.accounts.permissions import is_administrator, require_scope, require_someone
from zarbek.service.accounts.queries import get_token, list_tokens
from zarbek.service.catalog.permissions import owned_projects, require_owner
from zarbek.service.common.api import ApiView, Slug, describe, read_body
from zarbek.service.common.asker import current_asker
from zarbek.service.common.conditional import created_response, json_response
from zarbek.service.common.problems import Forbidden, NotFound

Scope = Literal["read", "publish", "manage"]


class NewToken(msgspec.Struct):
    """project: the only one that it is for, empty for all that its maker may. scope: to read, to publish, or for all
    that its maker may; if left out, to publish a project or, for none, everything. days: how long it lasts, None for
    ever."""

    name: Slug
    project: Slug = ""
    scope: Scope | None = None
    days: Annotated[int, msgspec.Meta(ge=1, le=3650)] | None = None


class Rotation(msgspec.Struct, forbid_unknown_fields=True):
    """hours: for how long the old token goes on beside the new one."""

    hours: Annotated[int, msgspec.Meta(ge=0, le=720)] = OVERLAP_HOURS


class TokenView(msgspec.Struct):
    """text: the token itself, only in the answer that made it. maker: whose account it stands for."""

    id: int
    name: str
    project: str
    scope: str
    maker: str
    created_at: datetime
    expires_at: datetime | None
    last_used_at: datetime | None
    text: str = ""


class Tokens(ApiView):
    """The tokens that programs sign in with."""

    @describe(id="listTokens", answer=list[TokenView])
    def get(self, request: Request) -> HttpResponse:
        """Tokens by name: one's own, and those for projects that one owns; their texts are not kept."""
        require_someone()
        require_scope("manage")
        asker = current_asker()
        found = list_tokens(None if is_administrator(asker) else asker.user, owned_projects())
        return json_response(request, [_view(t) for t in found if asker.project in ("", t.project)])

    @describe(id="createToken", answer=TokenView, status=201, body=NewToken)
    def post(self, request: Request) -> HttpResponse:
        """Make a token. Its text is in this answer and nowhere else."""
        require_someone()
        body = read_body(request, NewToken)
        if body.project and not is_administrator(current_asker()):
            require_owner(body.project)
        require_scope("manage")
        if not body.project and (own := current_asker().project):
            raise Forbidden(f"A token for {own} alone makes tokens for {own} alone.")
        token, text = create_token(
            user=request.user, name=body.name, project=body.project, scope=body.scope or "", days=body.days
        )
        return created_response(request, _view(token, text))


class TokenDetail(ApiView):
    """One token."""

    @describe(id="revokeToken", status=204)
    def delete(self, request: Request, token_id: int) -> HttpResponse:
        """Revoke a token at once."""
        revoke_token(_asked_for(token_id))
        return HttpResponse(status=204)


class TokenRotation(ApiView):
    """A token in the place of another."""

    @describe(id="rotateToken", answer=TokenView, status=201, body=Rotation)
    def post(self, request: Request, token_id: int) -> HttpResponse:
        """Make a token in the place of another, which goes on for a while. The new text is in this answer and nowhere
        else."""
        token, text = rotate_token(_asked_for(token_id), read_body(request, Rotation).hours)
        return created_response(request, _view(token, text))


def _asked_for(token_id: int) -> Token:
    """A token that the asker may change. Raises NotFound for any other."""
    require_someone()
    require_scope("manage")
    asker, token = current_asker(), get_token(token_id)
    is_own = token.user_id == asker.user or token.project in owned_projects()
    if not (is_administrator(asker) or is_own) or asker.project not in ("", token.project):
        raise NotFound("There is no such token.")
    return token


def _view(token: Token, text: str = "") -> TokenView:
    return TokenView(
        token.pk, token.name, token.project, token.scope, token.user.get_username(), token.created_at,
        token.expires_at, token.last_used_at, text,
    )  # fmt: skip
