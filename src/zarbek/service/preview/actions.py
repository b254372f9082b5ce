"""Making the database of a preview, and what it holds before anything is shown."""

from __future__ import annotations

from django.core.management import call_command

from zarbek.service.catalog.models import PortalState
from zarbek.service.publishing.pipeline import Publish, register_stage


def make_tables() -> None:
    """The rows that are always there; search follows after a page is shown, not before."""
    call_command("migrate", run_syncdb=True, verbosity=0)
    PortalState.objects.get_or_create(pk=1)
    register_stage(40, "index", _later)


def _later(publish: Publish) -> None:
    """Nobody waits for the index of a preview."""
