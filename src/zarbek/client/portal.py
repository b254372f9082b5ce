"""A portal, as programs use it."""

from __future__ import annotations

from urllib.request import OpenerDirector

from zarbek.client.methods.addresses import WebAddresses
from zarbek.client.methods.findings import Findings
from zarbek.client.methods.notices import Notices
from zarbek.client.methods.people import People
from zarbek.client.methods.projects import Projects
from zarbek.client.methods.publishing import Publishing
from zarbek.client.methods.reading import Reading
from zarbek.client.methods.sources import Sources
from zarbek.client.methods.supplements import Supplements
from zarbek.client.transport import HttpTransport


class Portal(Projects, Publishing, Sources, Findings, Reading, WebAddresses, Notices, People, Supplements):
    """A portal at an address.

    timeout_s: for connecting and between bytes. opener: what asks, as with authorities or a proxy of one's own; else
    proxies are those of the environment. Making one raises TokenUnreadable for a token that cannot be one. Every method
    raises PortalProblem for an answer that says no, and PortalUnreachable for none. May be used by several threads.
    """

    def __init__(
        self, url: str, token: str = "", *, timeout_s: float = 30.0, opener: OpenerDirector | None = None
    ) -> None:
        self._transport = HttpTransport(url, token, timeout_s=timeout_s, opener=opener)
        self.url = self._transport.url

    def __enter__(self) -> Portal:
        return self

    def __exit__(self, *_: object) -> None:
        """Nothing is kept open."""
