"""What nobody asks."""

from __future__ import annotations

from django.db.transaction import atomic

from zarbek.service.addresses.models import ProjectAddresses, QuietHost
from zarbek.service.addresses.queries import quiet_hosts
from zarbek.service.catalog.models import Project


def set_wishes(project: Project, *, asks: bool, quiet: list[str]) -> ProjectAddresses:
    """What of a project's addresses is asked from now on."""
    wanted = ProjectAddresses.objects.get_or_create(project=project)[0]
    wanted.asks, wanted.quiet = asks, sorted({q.lower() for q in quiet})
    wanted.save(update_fields=["asks", "quiet"])
    return wanted


def set_quiet(hosts: list[str]) -> list[str]:
    """The hosts that nobody asks from now on."""
    wanted = {h.lower() for h in hosts}
    with atomic():
        QuietHost.objects.exclude(host__in=wanted).delete()
        known = set(QuietHost.objects.values_list("host", flat=True))
        QuietHost.objects.bulk_create(QuietHost(host=h) for h in sorted(wanted - known))
    return quiet_hosts()
