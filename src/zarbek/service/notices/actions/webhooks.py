"""Webhooks and what is sent to them."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from typing import Any

import httpx
from cloudevents.v1.conversion import to_json
from cloudevents.v1.http import CloudEvent
from django.conf import settings
from django.contrib.auth.models import User
from django.db.models import Exists, OuterRef, Q, QuerySet
from django.db.transaction import atomic
from django.utils import timezone
from standardwebhooks import Webhook as Signer

from zarbek.core.material.network_addresses import HostRefused, resolve
from zarbek.service.accounts.actions.audit import note
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.queries import get_project
from zarbek.service.common.asker import Asker, asking
from zarbek.service.common.egress import EgressTransport, beside, get_bounded
from zarbek.service.common.problems import Conflict, NotFound, Problem
from zarbek.service.common.signing import new_signing_secret
from zarbek.service.notices.models import Delivery, Webhook

#: Seconds to wait after each failed attempt; after the last, whoever asks may have it sent again.
BACKOFF_S = (10, 60, 300, 1800, 7200, 21600, 43200)
TYPE = "org.zarbek."
#: For how long a worker has a receiver for itself; longer than one answer may take.
CLAIM = timedelta(minutes=5)
#: Of a receiver's answer: nobody reads it.
_MAX_WORDS = 4096


def add_webhook(*, url: str, project: str, person: str) -> tuple[Webhook, str]:
    """A new webhook and its secret. Raises Problem for an address that may not be asked."""
    try:
        parsed = httpx.URL(url) if len(url) <= 500 else httpx.URL("")
    except (httpx.InvalidURL, ValueError) as error:
        raise Problem(f"{url[:100]!r} is no address: {error}.") from error
    if parsed.scheme not in ("https", "http") or not parsed.host or parsed.userinfo:
        raise Problem("A webhook needs an address of the web, without name and password.")
    try:
        resolve(parsed.host, settings.ALLOWED_PRIVATE)
    except HostRefused as error:
        raise Problem(f"{error}. An administrator may allow hosts in ZARBEK_ALLOW_PRIVATE.") from error
    secret = new_signing_secret()
    found = get_project(project) if project else None
    with atomic():
        hook = Webhook.objects.create(url=url, secret=secret, project=found, person=person)
        note("webhook.added", project=project, subject=parsed.host)
    return hook, secret


def remove_webhook(webhook_id: int) -> None:
    """Send no more events there; what was sent is forgotten, too. Raises NotFound."""
    hook = Webhook.objects.filter(pk=webhook_id).select_related("project").first()
    if hook is None:
        raise NotFound("There is no such webhook.")
    with atomic():
        note("webhook.removed", project=hook.project.slug if hook.project else "", subject=httpx.URL(hook.url).host)
        hook.delete()


def announce(kind: str, project: Project, run: int, tell: Callable[[], dict[str, Any]]) -> int:
    """Put an event of a run on its way to every webhook that wants it, once; how many.

    tell: what it says to whoever asks then, nothing where that is kept from them: each webhook is told what its owner
    may see.
    """
    hooks = Webhook.objects.filter(project=None) | Webhook.objects.filter(project=project)
    event_id = str(uuid.uuid5(uuid.NAMESPACE_URL, f"{settings.PUBLIC_URL}/runs/{run}/{kind}/{project.slug}"))
    told = set(Delivery.objects.filter(event=event_id).values_list("webhook_id", flat=True))
    facts = {
        "id": event_id, "type": TYPE + kind, "source": settings.PUBLIC_URL, "subject": project.slug,
        "datacontenttype": "application/json",
    }  # fmt: skip
    made = []
    for hook in hooks.distinct():
        if hook.pk in told:
            continue
        with asking(_asker_for(hook.person)):
            said = tell() if Project.objects.filter(pk=project.pk).exists() else {}
        if not said:
            continue
        body = to_json(CloudEvent(dict(facts), said)).decode()
        made.append(Delivery(webhook=hook, event=event_id, type=facts["type"], body=body, due_at=timezone.now()))
    with atomic():
        # A webhook may go while its event is written.
        standing = Webhook.objects.filter(pk__in=[d.webhook_id for d in made]).select_for_update()
        kept = set(standing.values_list("pk", flat=True))
        return len(Delivery.objects.bulk_create([d for d in made if d.webhook_id in kept]))


def _asker_for(name: str) -> Asker:
    """Somebody who is told something without asking; nobody where there is no such account any more."""
    person = User.objects.filter(username=name, is_active=True).first()
    return Asker(person.pk, person.username, person.is_staff) if person is not None else Asker()


@dataclass(frozen=True, slots=True)
class Sent:
    """How a delivery was answered: HTTP status, 0 for none, and what was wrong."""

    status: int
    problem: str


def send(delivery: Delivery) -> Sent:
    """Send an event once. Touches no database. What the receiver says besides its status is not read."""
    signer = Signer(delivery.webhook.secret)
    moment = datetime.now(tz=UTC)
    headers = {
        "Content-Type": "application/cloudevents+json; charset=utf-8", "User-Agent": "Zarbek",
        "webhook-id": delivery.event, "webhook-timestamp": str(int(moment.timestamp())),
        "webhook-signature": signer.sign(delivery.event, moment, delivery.body),
    }  # fmt: skip
    try:
        with httpx.Client(
            transport=EgressTransport(settings.ALLOWED_PRIVATE, total_s=2 * settings.URL_TIMEOUT_S),
            timeout=settings.URL_TIMEOUT_S,
        ) as http:
            answer = get_bounded(
                http, delivery.webhook.url, method="POST", content=delivery.body.encode(), headers=headers,
                limit=_MAX_WORDS, may_cut=True,
            )  # fmt: skip
    except (httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
        return Sent(0, (str(error) or type(error).__name__)[:300])
    return Sent(answer.status_code, "" if answer.is_success else f"answered {answer.status_code}")


#: What sending changes of a delivery.
_SENT = ("attempts", "status", "problem", "state", "delivered_at", "due_at")


def keep_sent(delivery: Delivery, sent: Sent) -> bool:
    """Write down how a delivery went; whether it was taken. What was not is due again later."""
    now = timezone.now()
    delivery.attempts += 1
    delivery.status, delivery.problem = sent.status, sent.problem
    if not delivery.problem:
        delivery.state, delivery.delivered_at = "delivered", now
    elif delivery.attempts > len(BACKOFF_S) or delivery.status == 410:
        delivery.state = "given-up"
    else:
        delivery.due_at = now + timedelta(seconds=BACKOFF_S[delivery.attempts - 1])
    # Its webhook may have gone while it was on its way; it does not come back.
    Delivery.objects.bulk_update([delivery], _SENT)
    return not delivery.problem


def deliver_due(limit: int = 200) -> int:
    """Send what is due; how many were tried. Receivers are asked beside one another, the events for one
    of them in their order, by one worker at a time."""
    hooks = _claim_due()
    tried, queues = 0, [list(_due().filter(webhook=hook).select_related("webhook")[:limit]) for hook in hooks]
    try:
        while queues := [queue for queue in queues if queue]:
            Webhook.objects.filter(pk__in=hooks).update(claimed_until=timezone.now() + CLAIM)
            heads = [queue.pop(0) for queue in queues]
            for delivery, sent in zip(heads, beside(send, heads), strict=True):
                keep_sent(delivery, sent)
            tried += len(heads)
    finally:
        Webhook.objects.filter(pk__in=hooks).update(claimed_until=None)
    return tried


def _due() -> QuerySet[Delivery]:
    return Delivery.objects.filter(state="waiting", due_at__lte=timezone.now()).order_by("id")


def _claim_due() -> list[int]:
    """Ids of receivers for which something is due, and to which no other worker sends."""
    now = timezone.now()
    with atomic():
        waiting = Webhook.objects.filter(Exists(_due().filter(webhook=OuterRef("pk"))))
        free = waiting.filter(Q(claimed_until=None) | Q(claimed_until__lt=now)).order_by("pk")
        found = list(free.select_for_update(skip_locked=True).values_list("pk", flat=True))
        Webhook.objects.filter(pk__in=found).update(claimed_until=now + CLAIM)
    return found


def redeliver(delivery_id: int) -> Delivery:
    """Send an event again, from the beginning of its patience, under the id that it has."""
    delivery = Delivery.objects.filter(pk=delivery_id).select_related("webhook").first()
    if delivery is None:
        raise NotFound("There is no such delivery.")
    if delivery.state == "waiting":
        raise Conflict("This delivery is on its way already.")
    delivery.state, delivery.attempts, delivery.due_at = "waiting", 0, timezone.now()
    delivery.save()
    return delivery


def forget_deliveries(limit: int = 500) -> int:
    """Events that were sent, or given up, long ago; how many of them."""
    before = timezone.now() - timedelta(days=settings.KEEP_EVENTS_DAYS)
    over = Delivery.objects.exclude(state="waiting").filter(created_at__lt=before).order_by("pk")
    return int(Delivery.objects.filter(pk__in=list(over.values_list("pk", flat=True)[:limit])).delete()[0])
