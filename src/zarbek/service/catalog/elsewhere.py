"""Projects and releases of which a preview knows the names, and that are read in a portal. In a portal there are
none."""

from __future__ import annotations

#: As a project's visibility: only linking knows of it.
ELSEWHERE = "elsewhere"
_addresses: dict[str, str] = {}
_releases: set[int] = set()


def note_elsewhere(slug: str, address: str) -> None:
    """A project is read in the portal at an address, which ends without a slash."""
    _addresses[slug] = address


def portal_of(slug: str) -> str:
    """The address of the portal in which a project is read; empty for this one."""
    return _addresses.get(slug, "")


def note_release(release_id: int) -> None:
    """The texts of a release are elsewhere."""
    _releases.add(release_id)


def releases_elsewhere() -> frozenset[int]:
    """Releases whose texts are elsewhere, by primary key."""
    return frozenset(_releases)
