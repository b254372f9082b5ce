"""What is known of addresses."""

from __future__ import annotations

from collections.abc import Iterable
from urllib.parse import urlsplit

from zarbek.service.addresses.models import ProjectAddresses, QuietHost, UrlCheck
from zarbek.service.catalog.models import Project
from zarbek.service.common.batches import batched
from zarbek.service.common.packing import digest_of


def quiet_hosts() -> list[str]:
    """Hosts that nobody asks."""
    return list(QuietHost.objects.order_by("host").values_list("host", flat=True))


def list_unreachable(urls: Iterable[str]) -> list[dict[str, str]]:
    """Of these addresses those of which nothing can be told, with why and since when, by address."""
    found: list[dict[str, str]] = []
    for batch in batched(sorted(urls)):
        rows = UrlCheck.objects.filter(digest__in=[digest_of(u.encode()) for u in batch]).exclude(unreachable="")
        found += [
            {"url": r.url, "why": r.unreachable, "since": r.unreachable_since.isoformat()} for r in rows
            if r.unreachable_since is not None
        ]  # fmt: skip
    return sorted(found, key=lambda f: f["url"])


def host_of(url: str) -> str:
    """The host and port of an address, in small letters; empty for what is no address."""
    try:
        return urlsplit(url).netloc.lower()
    except ValueError:
        return ""


def wishes_of(project: Project) -> ProjectAddresses:
    """What a project wishes, and what is known of its addresses; the usual where nobody has asked yet."""
    return ProjectAddresses.objects.filter(project=project).first() or ProjectAddresses(project=project)
