"""What programs sign in with."""

from __future__ import annotations

from typing import TYPE_CHECKING

from zarbek.client import values
from zarbek.client.methods.caller import Caller

if TYPE_CHECKING:
    from zarbek.client.values.projects import Token


class Tokens(Caller):
    """What programs sign in with."""

    def tokens(self) -> list[Token]:
        """One's own tokens; without their secrets."""
        return self._get("/tokens", list[values.Token])

    def create_token(self, name: str, *, project: str = "", days: int | None = None) -> Token:
        """A new token; the answer alone holds it.

        days: how long it lasts; None for ever. project: the only one that it may publish; empty for all.
        """
        return self._post("/tokens", {"name": name, "project": project, "days": days}, values.Token)

    def revoke_token(self, token_id: int) -> None:
        """End a token at once."""
        self._delete(f"/tokens/{token_id}")
