"""What is known of addresses."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable
from dataclasses import dataclass
from datetime import datetime
from fnmatch import fnmatchcase
from urllib.parse import urlsplit

from django.db.models import Exists, Max, OuterRef, Q, QuerySet

from zarbek.service.addresses.models import AddressUse, ProjectAddresses, QuietHost, UrlCheck
from zarbek.service.catalog.models import Project, Release
from zarbek.service.catalog.queries import LATEST


def quiet_hosts() -> list[str]:
    """Hosts that nobody asks."""
    return list(QuietHost.objects.order_by("host").values_list("host", flat=True))


def host_of(url: str) -> str:
    """The host and port of an address, in small letters; empty for what is no address."""
    try:
        name = urlsplit(url).netloc.lower()
    except ValueError:
        return ""
    return name if name.isascii() and len(name) <= 260 else ""


def judged_releases() -> QuerySet[Release]:
    """Releases whose addresses are asked."""
    return Release.objects.filter(is_live=True, is_judged=True, is_preview=False)


def list_unlisted(limit: int = 50) -> list[int]:
    """Ids of releases whose addresses are to be asked and have not been written down."""
    return list(judged_releases().filter(address_list=None).order_by("pk").values_list("pk", flat=True)[:limit])


def due_addresses(now: datetime) -> QuerySet[UrlCheck]:
    """Addresses whose turn has come, of those that some release has."""
    return UrlCheck.objects.filter(Exists(AddressUse.objects.filter(address=OuterRef("pk"))), due_at__lte=now)


@dataclass(frozen=True, slots=True)
class Wishes:
    """What is left alone. quiet: for everybody. by_project: id to whether it asks at all, and what it leaves alone."""

    quiet: list[str]
    by_project: dict[int, tuple[bool, list[str]]]

    def asks(self, project_id: int, host: str) -> bool:
        """Whether a project's addresses of a host are asked."""
        asks, quiet = self.by_project.get(project_id, (True, []))
        return asks and not any(fnmatchcase(host, pattern) for pattern in (*self.quiet, *quiet))

    def wanted(self, host: str, rows: list[UrlCheck]) -> list[UrlCheck]:
        """Those of a host's addresses that some project which has them asks."""
        if any(fnmatchcase(host, pattern) for pattern in self.quiet):
            return []
        having: dict[int, set[int]] = defaultdict(set)
        uses = AddressUse.objects.filter(address__in=rows).values_list("address_id", "list__release__project_id")
        for address, project in uses.distinct():
            having[address].add(project)
        return [row for row in rows if any(self.asks(project, host) for project in having[row.pk])]


def read_wishes(projects: Collection[int] | None = None) -> Wishes:
    """What is left alone, for some projects or all."""
    rows = ProjectAddresses.objects.all() if projects is None else ProjectAddresses.objects.filter(project__in=projects)
    return Wishes(
        quiet_hosts(), {p: (asks, quiet) for p, asks, quiet in rows.values_list("project_id", "asks", "quiet")}
    )


def wrong_uses(release: Release) -> dict[tuple[str, str], list[UrlCheck]]:
    """Texts of a release, by kind and path, to those of their addresses that are wrong or have moved."""
    uses = AddressUse.objects.filter(list__release=release).exclude(address__checked_at=None)
    wrong = uses.filter(~Q(address__fault="") | ~Q(address__moved_to=""))
    found: dict[tuple[str, str], list[UrlCheck]] = defaultdict(list)
    for use in wrong.select_related("address__host").order_by("kind", "path", "pk"):
        found[use.kind, use.path].append(use.address)
    return found


@dataclass(frozen=True, slots=True)
class KnownAddresses:
    """Of a project's newest release. known: how many addresses it has that are asked. unreachable: those of which
    nothing can be told, with why and since when, by address. checked_at: when one of them was last asked."""

    wishes: ProjectAddresses
    known: int
    unreachable: list[UrlCheck]
    checked_at: datetime | None


def known_addresses(project: Project) -> KnownAddresses:
    """What a project wishes, and what is known of its addresses."""
    wished = ProjectAddresses.objects.filter(project=project).first() or ProjectAddresses(project=project)
    of_latest = UrlCheck.objects.filter(
        Exists(AddressUse.objects.filter(address=OuterRef("pk"), list__release__aliases__name=LATEST,
                                         list__release__project=project))
    )  # fmt: skip
    wishes = read_wishes([project.pk])
    hosts = dict(of_latest.order_by().values_list("host_id", "host__name").distinct())
    asked = of_latest.filter(host__in=[pk for pk, name in hosts.items() if wishes.asks(project.pk, name or "")])
    unreachable = asked.exclude(unreachable="").exclude(unreachable_since=None).order_by("url")
    return KnownAddresses(wished, asked.count(), list(unreachable), asked.aggregate(at=Max("checked_at"))["at"])


def some_good(limit: int) -> Iterable[UrlCheck]:
    """Addresses that answered well when they were last asked, the latest first."""
    return UrlCheck.objects.filter(status__gte=200, status__lt=400, fault="").order_by("-checked_at")[:limit]
