"""Who is told of what."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING

from zarbek.client import values
from zarbek.client.methods.caller import Caller

if TYPE_CHECKING:
    from zarbek.client.values.people import MailSettings
    from zarbek.client.values.sources import Delivery, Webhook


class Notices(Caller):
    """Who is told of what."""

    def add_webhook(self, url: str, project: str = "") -> Webhook:
        """Send events there; the answer holds the secret that signs them."""
        return self._post("/webhooks", {"url": url, "project": project}, values.Webhook)

    def webhooks(self) -> list[Webhook]:
        """Where events are sent; without their secrets."""
        return self._get("/webhooks", list[values.Webhook])

    def remove_webhook(self, webhook_id: int) -> None:
        """Send no more events there."""
        self._delete(f"/webhooks/{webhook_id}")

    def deliveries(self, webhook_id: int) -> Iterator[Delivery]:
        """What was sent, newest first."""
        return self._pages(f"/webhooks/{webhook_id}/deliveries", values.Delivery)

    def redeliver(self, delivery_id: int) -> Delivery:
        """Send an event once more."""
        return self._post(f"/deliveries/{delivery_id}/redelivery", {}, values.Delivery)

    def set_digests(self, wanted: dict[str, str]) -> dict[str, str]:
        """Mail addresses by team; an empty one ends its mail."""
        return self._post("/digests", wanted, dict[str, str], "PUT")

    def digests(self) -> dict[str, str]:
        """Mail addresses by team."""
        return self._get("/digests", dict[str, str])

    def mail(self) -> MailSettings:
        """What one has mail of, and where it goes."""
        return self._get("/mail", values.MailSettings)

    def pause_mail(self, is_paused: bool = True) -> MailSettings:
        """Pause one's mail, or have it again."""
        return self._post("/mail", {"is_paused": is_paused}, values.MailSettings, "PUT")

    def follow(self, *, project: str = "", owner: str = "") -> MailSettings:
        """Have mail of what is new in a project, or of what is a team's turn."""
        return self._post("/mail", {"project": project, "owner": owner}, values.MailSettings)

    def unfollow(self, subscription_id: int) -> None:
        """Have mail of it no longer."""
        self._delete(f"/mail/subscriptions/{subscription_id}")
