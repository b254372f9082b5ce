"""Which addresses of the net lie outside, and what an address that holds another reaches."""

from __future__ import annotations

import fnmatch
import ipaddress
import socket
from collections.abc import Iterator, Sequence

IPAddress = ipaddress.IPv4Address | ipaddress.IPv6Address

#: Network and the bit at which the IPv4 address in it ends: IPv4-mapped and -compatible (RFC 4291,
#: section 2.5.5), translated (RFC 6052 and RFC 8215), 6to4 (RFC 3056).
_HOLDING = tuple(
    (ipaddress.IPv6Network(network), shift)
    for network, shift in (
        ("::ffff:0:0/96", 0), ("::ffff:0:0:0/96", 0), ("::/96", 0), ("64:ff9b::/96", 0), ("64:ff9b:1::/48", 0),
        ("2002::/16", 80),
    )
)  # fmt: skip
_TEREDO = ipaddress.IPv6Network("2001::/32")
#: Site-local addresses (RFC 3879): out of use, but some networks still have them.
_SITE_LOCAL = ipaddress.IPv6Network("fec0::/10")


class HostRefused(Exception):
    """A host that may not be asked. ``str()`` says why; is_known: whether it has an address at all."""

    def __init__(self, message: str, *, is_known: bool) -> None:
        super().__init__(message)
        self.is_known = is_known


def reached_by(address: IPAddress) -> Iterator[IPAddress]:
    """The address, and those that it embeds or that a relay would make of it."""
    yield address
    if isinstance(address, ipaddress.IPv4Address):
        return
    for network, shift in _HOLDING:
        if address in network and int(address) > 1:
            yield ipaddress.IPv4Address((int(address) >> shift) & 0xFFFFFFFF)
    if address in _TEREDO:  # RFC 4380, section 4: the server, and the client with its bits turned.
        yield ipaddress.IPv4Address((int(address) >> 64) & 0xFFFFFFFF)
        yield ipaddress.IPv4Address(~int(address) & 0xFFFFFFFF)


def is_outside(address: IPAddress) -> bool:
    """Whether an address, and whatever it reaches, lies in the open net."""
    return all(_is_open(one) for one in reached_by(address))


def _is_open(address: IPAddress) -> bool:
    if isinstance(address, ipaddress.IPv6Address):
        if any(address in network for network, _ in _HOLDING):
            return int(address) > 1  # What it holds is judged by itself.
        if address in _SITE_LOCAL:
            return False
    return address.is_global and not (address.is_multicast or address.is_unspecified or address.is_reserved)


def resolve(host: str, allowed: Sequence[str]) -> str:
    """The address to connect to for a host.

    allowed: hosts, ``*`` for any text, that may lie in a private network. Raises HostRefused for a
    host that is not known, or of which any address is not of the open net.
    """
    try:
        found = [str(info[4][0]).partition("%")[0] for info in socket.getaddrinfo(host, None, type=socket.SOCK_STREAM)]
    except (OSError, UnicodeError) as error:
        raise HostRefused(f"The host {host} is not known", is_known=False) from error
    if any(fnmatch.fnmatchcase(host.lower(), pattern) for pattern in allowed):
        return found[0]
    if not all(is_outside(ipaddress.ip_address(address)) for address in found):
        raise HostRefused(f"{host} leads into a private network", is_known=True)
    return found[0]
