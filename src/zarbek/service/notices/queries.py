"""Reading webhooks, what was sent to them, and where each team's mail goes."""

from __future__ import annotations

from django.db.models import QuerySet

from zarbek.service.notices.models import Delivery, Digest, Webhook


def list_webhooks() -> list[Webhook]:
    """All webhooks with their projects, the oldest first."""
    return list(Webhook.objects.select_related("project"))


def deliveries_to(webhook_id: int) -> QuerySet[Delivery]:
    """What was sent to a webhook, or waits to be, newest first."""
    return Delivery.objects.filter(webhook=webhook_id)


def digest_addresses() -> dict[str, str]:
    """Mail addresses by team."""
    return dict(Digest.objects.values_list("owner", "address"))
