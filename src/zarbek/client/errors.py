"""Errors of the client.

PortalError
├── PortalUnreachable     no answer: wrong address, no network, or too slow
├── TokenUnreadable       the token cannot be one, and was not sent
├── NotInTime             what the portal is asked to make is not made yet
└── PortalProblem         an answer with problem details (RFC 9457)
"""

from __future__ import annotations

from typing import Any


class PortalError(Exception):
    """Something between this program and the portal went wrong."""


class PortalUnreachable(PortalError):
    """Nobody answers at the portal's address."""

    def __init__(self, url: str, reason: str) -> None:
        super().__init__(url, reason)
        self.url, self.reason = url, reason

    def __str__(self) -> str:
        return f"{self.url} does not answer: {self.reason}. Is ZARBEK_URL right?"


class TokenUnreadable(PortalError):
    """Never says the token: what is told here ends up in logs."""

    def __str__(self) -> str:
        return "The token has characters that no token has. Set ZARBEK_TOKEN to what zarbek tokens printed."


class NotInTime(PortalError):
    """The portal is still at it."""

    def __init__(self, what: str, within_s: float) -> None:
        super().__init__(what, within_s)
        self.what, self.within_s = what, within_s

    def __str__(self) -> str:
        return f"{self.what} is not made after {self.within_s:g} s. Ask again: the portal goes on with it."


class PortalProblem(PortalError):
    """status: of HTTP. code: stable. detail: a sentence for people. facts: all members."""

    def __init__(self, status: int, code: str, detail: str, facts: dict[str, Any]) -> None:
        super().__init__(status, code, detail)
        self.status, self.code, self.detail, self.facts = status, code, detail, facts

    def __str__(self) -> str:
        return self.detail
