"""Jobs of the queue that send."""

from __future__ import annotations

from django_tasks import task

from zarbek.service.notices.actions.mail import send_digests
from zarbek.service.notices.actions.webhooks import deliver_due


@task(queue_name="chores")
def send_due() -> None:
    """Deliver the events that are due."""
    deliver_due()


@task(queue_name="outside")  # A mail server that takes its time holds up no event.
def send_mail() -> None:
    """Mail each team what is new."""
    send_digests()
