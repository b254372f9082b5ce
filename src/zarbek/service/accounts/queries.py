"""Reading accounts."""

from __future__ import annotations

from zarbek.service.accounts.models import Token


def list_tokens() -> list[Token]:
    """All tokens by name; their texts are not kept."""
    return list(Token.objects.order_by("name", "pk"))
