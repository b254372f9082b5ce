"""Where readers are sent outside the portal, and which addresses of the web are asked."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING
from urllib.parse import quote

from zarbek.client import values
from zarbek.client.methods.caller import Caller

if TYPE_CHECKING:
    from zarbek.client.values.findings import Addresses


class WebAddresses(Caller):
    """Where readers are sent outside the portal, and which addresses of the web are asked."""

    def outside(self) -> dict[str, str]:
        """Where readers are sent for names outside the portal, by namespace."""
        return self._get("/outside", dict[str, str])

    def set_outside(self, wanted: dict[str, str]) -> dict[str, str]:
        """Exactly these: a namespace to an address with {name} in it."""
        return self._post("/outside", wanted, dict[str, str], "PUT")

    def addresses(self, slug: str) -> Addresses:
        """Addresses of the web that a project links to: how many are asked, and which could not be reached."""
        return self._get(f"/projects/{quote(slug)}/addresses", values.Addresses)

    def set_addresses(self, slug: str, *, asks: bool, quiet: Sequence[str] = ()) -> Addresses:
        """Whether a project's addresses are asked, and the hosts that are left alone."""
        body = {"asks": asks, "quiet": list(quiet)}
        return self._post(f"/projects/{quote(slug)}/addresses", body, values.Addresses, "PUT")

    def quiet_hosts(self) -> list[str]:
        """The hosts that the portal never asks."""
        return self._get("/addresses/quiet", list[str])

    def set_quiet_hosts(self, hosts: Sequence[str]) -> list[str]:
        """The hosts that the portal never asks from now on; needs an administrator."""
        return self._post("/addresses/quiet", list(hosts), list[str], "PUT")
