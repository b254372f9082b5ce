"""Reading webhooks, what was sent to them, and where each team's mail goes."""

from __future__ import annotations

from django.db.models import QuerySet

from zarbek.service.notices.models import Delivery, Digest, MailChoice, Subscription, Webhook


def list_webhooks() -> list[Webhook]:
    """All webhooks with their projects, the oldest first."""
    return list(Webhook.objects.select_related("project"))


def deliveries_to(webhook_id: int) -> QuerySet[Delivery]:
    """What was sent to a webhook, or waits to be, newest first."""
    return Delivery.objects.filter(webhook=webhook_id)


def digest_addresses() -> dict[str, str]:
    """Mail addresses by team."""
    return dict(Digest.objects.values_list("owner", "address"))


def subscriptions_of(user: int) -> list[Subscription]:
    """What somebody has mail of."""
    return list(Subscription.objects.filter(user=user).select_related("project"))


def is_mail_paused(user: int) -> bool:
    """Whether somebody wants no mail for now."""
    return MailChoice.objects.filter(user=user, is_paused=True).exists()
