"""Which servers a project lets its readers ask."""

from __future__ import annotations

from zarbek.service.catalog.models import Release
from zarbek.service.common.problems import NotAllowed
from zarbek.service.content.queries import get_manifest


def allowed_servers(release: Release) -> list[str]:
    """What the project's own file names, without a stroke at the end."""
    return [server.rstrip("/") for server in get_manifest(release.pk).servers]


def is_allowed(address: str, allowed: list[str]) -> bool:
    """Whether an address is one of those allowed, or lies below one."""
    return any(address == server or address.startswith(server + "/") for server in allowed)


def allowed_server(release: Release, address: str) -> str:
    """The address, without a stroke at its end. Raises NotAllowed: it is none that the project allows."""
    allowed = allowed_servers(release)
    plain = address.rstrip("/")
    parts = plain.partition("://")[2]
    is_plain = (
        plain.startswith(("http://", "https://")) and not {"@", "?", "#", "\\", " "} & set(parts) and ".." not in parts
    )
    if not is_plain or not is_allowed(plain, allowed):
        told = f" It allows {', '.join(allowed)}." if allowed else " It allows none: see servers in zarbek.toml."
        raise NotAllowed(f"{release.project.slug} does not allow requests to {address}.{told}")
    return plain
