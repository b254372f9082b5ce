"""What somebody has mail of."""

from __future__ import annotations

import msgspec
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_scope, require_someone
from zarbek.service.common.api import ApiView, Line, Slug, describe, read_body
from zarbek.service.common.conditional import created_response, json_response
from zarbek.service.notices.actions.mail import follow, pause_by_key, pause_mail, unfollow
from zarbek.service.notices.queries import is_mail_paused, subscriptions_of


class SubscriptionView(msgspec.Struct):
    """project: of which one is told what is new; or owner: the team whose turn it is."""

    id: int
    project: str
    owner: str


class MailView(msgspec.Struct):
    """address: where it goes; empty where the account has none."""

    address: str
    is_paused: bool
    subscriptions: list[SubscriptionView]


class MailPause(msgspec.Struct, forbid_unknown_fields=True):
    """Whether no mail is wanted for now."""

    is_paused: bool


class NewSubscription(msgspec.Struct, forbid_unknown_fields=True):
    """One of both."""

    project: Slug = ""
    owner: Line = ""


class Mail(ApiView):
    """What one has mail of."""

    @describe(id="getMail", answer=MailView)
    def get(self, request: Request) -> HttpResponse:
        """What one has mail of, and where it goes."""
        require_someone()
        return json_response(request, _view(request))

    @describe(id="pauseMail", answer=MailView, body=MailPause)
    def put(self, request: Request) -> HttpResponse:
        """Pause one's mail, or have it again."""
        require_someone()
        require_scope("manage")
        pause_mail(request.user, is_paused=read_body(request, MailPause).is_paused)
        return json_response(request, _view(request))

    @describe(id="follow", answer=MailView, status=201, body=NewSubscription)
    def post(self, request: Request) -> HttpResponse:
        """Have mail of what is new in a project, or of what is a team's turn."""
        require_someone()
        require_scope("manage")
        body = read_body(request, NewSubscription)
        follow(request.user, project=body.project, owner=body.owner)
        return created_response(request, _view(request))


class MailSubscription(ApiView):
    """One thing that one has mail of."""

    @describe(id="unfollow", status=204)
    def delete(self, request: Request, subscription_id: int) -> HttpResponse:
        """Have mail of it no longer."""
        require_someone()
        require_scope("manage")
        unfollow(request.user, subscription_id)
        return HttpResponse(status=204)


class MailUnsubscription(ApiView):
    """What a mail's own key may do."""

    authentication_classes = ()

    @describe(id="unsubscribe", status=204)
    def post(self, request: Request, key: str) -> HttpResponse:
        """Pause the mail that has this key, at one click (RFC 8058)."""
        pause_by_key(key)
        return HttpResponse(status=204)


def _view(request: Request) -> MailView:
    found = [
        SubscriptionView(s.pk, s.project.slug if s.project else "", s.owner) for s in subscriptions_of(request.user.pk)
    ]
    return MailView(request.user.email, is_mail_paused(request.user.pk), found)
