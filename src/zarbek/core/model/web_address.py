"""Addresses of the web (RFC 3986) taken apart and joined, broken ones too: whatever a text says is
written somewhere in it, so none of it may end the reading of the others."""

from __future__ import annotations

from urllib.parse import SplitResult, urljoin, urlsplit


def split_address(address: str) -> SplitResult:
    """The parts of an address; all empty but the path where it is none."""
    try:
        parts = urlsplit(address)
        parts.port  # noqa: B018  # Raises for a port that is none.
    except ValueError:
        return SplitResult("", "", address, "", "")
    return parts


def join_address(base: str, reference: str) -> str:
    """The address that a reference means where it stands; the reference itself where that is none."""
    try:
        return urljoin(base, reference)
    except ValueError:
        return reference


def cut_fragment(address: str) -> tuple[str, str]:
    """(address, fragment), whatever the address is."""
    place, _, fragment = address.partition("#")
    return place, fragment
