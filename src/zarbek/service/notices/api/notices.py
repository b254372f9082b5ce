"""Webhooks with their deliveries, and where each team's mail goes."""

from __future__ import annotations

from datetime import datetime

import msgspec
from django.core.exceptions import ValidationError
from django.core.validators import validate_email
from django.http import HttpResponse
from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_administrator
from zarbek.service.common.api import PAGING, Address, ApiView, Line, Slug, describe, read_body
from zarbek.service.common.conditional import created_response, json_response
from zarbek.service.common.paging import page_of
from zarbek.service.common.problems import Problem
from zarbek.service.notices.actions.mail import set_digest
from zarbek.service.notices.actions.webhooks import add_webhook, redeliver, remove_webhook
from zarbek.service.notices.models import Delivery, Webhook
from zarbek.service.notices.queries import deliveries_to, digest_addresses, list_webhooks


class NewWebhook(msgspec.Struct, forbid_unknown_fields=True):
    """project: empty for every project."""

    url: Address
    project: Slug = ""


class WebhookView(msgspec.Struct):
    """secret: only in the answer that made it."""

    id: int
    url: str
    project: str
    person: str
    created_at: datetime
    secret: str = ""


class DeliveryView(msgspec.Struct):
    """state: waiting, delivered or given-up. status: HTTP status of the last answer, 0 for none."""

    id: int
    event: str
    type: str
    state: str
    attempts: int
    status: int
    problem: str
    created_at: datetime
    due_at: datetime
    delivered_at: datetime | None
    body: str


class DeliveryPage(msgspec.Struct):
    """next: the address of the deliveries that follow, or null."""

    items: list[DeliveryView]
    total: int
    next: str | None


def hook_view(hook: Webhook, secret: str = "") -> WebhookView:
    """A webhook as the API shows it; secret: only for who has just made it."""
    return WebhookView(
        hook.pk, hook.url, hook.project.slug if hook.project else "", hook.person, hook.created_at, secret
    )


def delivery_view(d: Delivery) -> DeliveryView:
    """A delivery as the API shows it."""
    return DeliveryView(
        d.pk, d.event, d.type, d.state, d.attempts, d.status, d.problem, d.created_at, d.due_at, d.delivered_at, d.body
    )


class Webhooks(ApiView):
    """Where events are sent."""

    @describe(id="listWebhooks", answer=list[WebhookView])
    def get(self, request: Request) -> HttpResponse:
        """Where events are sent."""
        require_administrator()
        return json_response(request, [hook_view(h) for h in list_webhooks()])

    @describe(id="addWebhook", answer=WebhookView,
              status=201, body=NewWebhook)  # fmt: skip
    def post(self, request: Request) -> HttpResponse:
        """Send events as signed CloudEvents to an address."""
        require_administrator()
        body = read_body(request, NewWebhook)
        hook, secret = add_webhook(url=body.url, project=body.project, person=request.user.get_username())
        return created_response(request, hook_view(hook, secret))


class WebhookDetail(ApiView):
    """One webhook."""

    @describe(id="removeWebhook", answer=None, status=204)
    def delete(self, request: Request, webhook_id: int) -> HttpResponse:
        """Send no more events there."""
        require_administrator()
        remove_webhook(webhook_id)
        return HttpResponse(status=204)


class Deliveries(ApiView):
    """What was sent to a webhook."""

    @describe(id="listDeliveries", answer=DeliveryPage,
              parameters=PAGING)  # fmt: skip
    def get(self, request: Request, webhook_id: int) -> HttpResponse:
        """What was sent to a webhook, newest first."""
        require_administrator()
        rows = deliveries_to(webhook_id)
        page = page_of(rows, ("-id",), request.query_params, request.path)
        return json_response(request, {**page, "items": [delivery_view(d) for d in page["items"]]})


class Redelivery(ApiView):
    """Sending an event again."""

    @describe(id="redeliver", answer=DeliveryView, status=202)
    def post(self, request: Request, delivery_id: int) -> HttpResponse:
        """Send an event again."""
        require_administrator()
        response = json_response(request, delivery_view(redeliver(delivery_id)))
        response.status_code = 202
        return response


class Digests(ApiView):
    """Where each team's mail goes."""

    @describe(id="listDigests", answer=dict[str, str])
    def get(self, request: Request) -> HttpResponse:
        """Where each team's mail goes."""
        require_administrator()
        return json_response(request, digest_addresses())

    @describe(id="setDigests", answer=dict[str, str],
              body=dict[Line, Line])  # fmt: skip
    def put(self, request: Request) -> HttpResponse:
        """Set addresses by team; an empty one ends its mail."""
        require_administrator()
        wanted = read_body(request, dict[Line, Line])
        for address in wanted.values():
            try:
                if address:
                    validate_email(address)
            except ValidationError as error:
                raise Problem(f"{address!r} is no mail address.") from error
        for owner, address in wanted.items():
            set_digest(owner[:200], address)
        return json_response(request, digest_addresses())
