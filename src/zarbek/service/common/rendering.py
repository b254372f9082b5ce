"""JSON answers by msgspec, which writes structs and plain values alike."""

from __future__ import annotations

from typing import Any

import msgspec
from rest_framework.renderers import BaseRenderer


class MsgspecRenderer(BaseRenderer):
    """Writes answers as JSON by msgspec."""

    media_type = "application/json"
    format = "json"
    charset = None

    def render(self, data: Any, media_type: str | None = None, context: Any = None) -> bytes:
        """data as JSON; None as nothing."""
        if data is None:
            return b""
        return msgspec.json.encode(data, enc_hook=str)
