"""After a report the addresses of its release are listed and asked for, and all again from time to time."""

from __future__ import annotations

from django.utils import timezone

from zarbek.service.addresses.actions.listing import forget_lists
from zarbek.service.addresses.queries import due_addresses, list_unlisted
from zarbek.service.addresses.tasks import ask, list_addresses_of
from zarbek.service.common.chores import register_chore
from zarbek.service.publishing.pipeline import Publish, register_stage


def register() -> None:
    """Register the stage that asks a release's addresses, and the chores that ask again and list what was missed."""
    register_stage(62, "addresses", addresses)
    register_chore("addresses", 60, ask_again)
    register_chore("address lists", 600, list_missed)


def addresses(publish: Publish) -> None:
    """Have the addresses of a release that is judged asked, once it is live."""
    release = publish.stored
    release.refresh_from_db(fields=["is_judged"])
    if not publish.run.is_dry and release.is_judged and not release.is_preview:
        with publish.progress.fenced():
            list_addresses_of.enqueue(release.pk)


def ask_again() -> None:
    """Addresses whose turn has come are asked."""
    if due_addresses(timezone.now()).exists():
        ask.enqueue()


def list_missed() -> None:
    """Releases that are judged since, or whose job was lost; those that no longer are lose their addresses."""
    forget_lists()
    for release_id in list_unlisted():
        list_addresses_of.enqueue(release_id)
