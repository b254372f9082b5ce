"""What nobody asks."""

from __future__ import annotations

from django.db.transaction import atomic

from zarbek.service.accounts.actions.audit import note
from zarbek.service.addresses.models import ProjectAddresses, QuietHost
from zarbek.service.addresses.queries import quiet_hosts
from zarbek.service.catalog.models import Project


def set_wishes(project: Project, *, asks: bool, quiet: list[str]) -> ProjectAddresses:
    """What of a project's addresses is asked from now on."""
    with atomic():
        wanted = ProjectAddresses.objects.get_or_create(project=project)[0]
        before = {"asks": wanted.asks, "quiet": wanted.quiet}
        wanted.asks, wanted.quiet = asks, sorted({q.lower() for q in quiet})
        wanted.save(update_fields=["asks", "quiet"])
        after = {"asks": wanted.asks, "quiet": wanted.quiet}
        note("project.addresses", project=project.slug, before=before, after=after)
    return wanted


def set_quiet(hosts: list[str]) -> list[str]:
    """The hosts that nobody asks from now on."""
    wanted = {h.lower() for h in hosts}
    with atomic():
        known = set(quiet_hosts())
        note("portal.quiet-hosts", before=sorted(known), after=sorted(wanted))
        QuietHost.objects.exclude(host__in=wanted).delete()
        QuietHost.objects.bulk_create(QuietHost(host=h) for h in sorted(wanted - known))
    return quiet_hosts()
