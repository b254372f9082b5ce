"""Cursor pages over sequences in a stated order."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Sequence
from typing import Any
from urllib.parse import urlencode

from django.http import QueryDict

from zarbek.service.common.problems import Problem
from zarbek.service.common.request_validation import read_number

DEFAULT_SIZE, MAX_SIZE = 50, 500
#: No list is so long.
MAX_START = 2**40


def page_of(items: Sequence[Any], params: QueryDict, path: str) -> dict[str, Any]:
    """``{"items", "total", "next"}``; next is an address or null.

    Raises Problem for a size or cursor that this service did not give out.
    """
    size = read_size(params)
    start = read_cursor(params)
    chunk = list(items[start : start + size])
    total = len(items) if isinstance(items, list | tuple) else items.count()  # type: ignore[call-arg]
    following = None
    if start + size < total:
        kept = {k: v for k, v in params.items() if k != "cursor"}
        following = f"{path}?{urlencode({**kept, 'cursor': make_cursor(start + size)})}"
    return {"items": chunk, "total": total, "next": following}


def read_size(params: QueryDict) -> int:
    return read_number("limit", params.get("limit", str(DEFAULT_SIZE)), 1, MAX_SIZE)


def make_cursor(start: int) -> str:
    return base64.urlsafe_b64encode(f"from:{start}".encode()).decode().rstrip("=")


def read_cursor(params: QueryDict) -> int:
    raw = params.get("cursor")
    if not raw:
        return 0
    try:
        text = base64.urlsafe_b64decode(raw + "=" * (-len(raw) % 4)).decode()
        head, _, start = text.partition(":")
        if head == "from":
            return read_number("cursor", start, 0, MAX_START)
    except (binascii.Error, UnicodeDecodeError, ValueError) as error:
        raise Problem("The cursor is not one of this service. Start again without it.") from error
    raise Problem("The cursor is not one of this service. Start again without it.")
