"""Who reads a preview: whoever started it, and reads all of it."""

from __future__ import annotations

from typing import Any

from rest_framework.authentication import BaseAuthentication
from rest_framework.request import Request

#: What changes nothing (RFC 9110, section 9.2.1).
_SAFE = ("GET", "HEAD", "OPTIONS")


class LocalUser:
    """Whoever sits at the machine."""

    pk = None
    is_authenticated = True
    is_staff = True

    def get_username(self) -> str:
        """What they are called in what they do."""
        return ""


class LocalReader(BaseAuthentication):  # type: ignore[misc]
    """Nobody signs in: who reaches the address of a machine itself is who started the preview. Who writes is nobody,
    for any page of the web may have a browser send something."""

    def authenticate(self, request: Request) -> tuple[Any, None] | None:
        """The reader, for what changes nothing."""
        return (LocalUser(), None) if request.method in _SAFE else None
