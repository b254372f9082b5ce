"""Cursor pages: a cursor holds the place of the last item that was given, and the next page is what comes after it in
the list's order. So nothing is given twice or left out when others are added or go in between, and a far page costs
what a near one does."""

from __future__ import annotations

import base64
import binascii
from collections.abc import Callable, Sequence
from typing import Any, TypeVar
from urllib.parse import urlencode

import msgspec
from django.db.models import Model, Q, QuerySet
from django.http import QueryDict

from zarbek.service.common.problems import Problem
from zarbek.service.common.request_validation import MAX_NUMBER, check_text, read_number

T = TypeVar("T")
#: Where a cursor stands in a list: what its last item is ordered or called by; None for before the first.
Place = Sequence[str | int] | None
DEFAULT_SIZE, MAX_SIZE = 50, 500
_UNKNOWN = "The cursor is not one of this list. Start again without it."


def page_of(rows: QuerySet[Any], order: Sequence[str], params: QueryDict, path: str) -> dict[str, Any]:
    """``{"items", "total", "next"}``; next is an address or null.

    order: fields, each with a leading ``-`` where it descends; together they tell every row from every other.
    Raises Problem for a size or cursor that this service did not give out.
    """
    size, after = read_size(params), read_cursor(params)
    total = rows.count()
    if after is not None:
        rows = rows.filter(_later(order, _checked(order, after)))
    found = list(rows.order_by(*order)[: size + 1])
    chunk = found[:size]
    place = make_cursor(*(_value(chunk[-1], field) for field in order)) if len(found) > size else ""
    return {"items": chunk, "total": total, "next": _following(place, params, path)}


def page_of_list(items: Sequence[T], name: Callable[[T], str], params: QueryDict, path: str) -> dict[str, Any]:
    """The same for a list in memory, in its order. name: by which an item is told from all others."""
    size, start = read_size(params), start_after(items, name, read_cursor(params))
    chunk = list(items[start : start + size])
    place = make_cursor(name(chunk[-1])) if start + size < len(items) else ""
    return {"items": chunk, "total": len(items), "next": _following(place, params, path)}


def start_after(items: Sequence[T], name: Callable[[T], str], after: Place) -> int:
    """The index at which a list goes on after the item of a cursor. Raises Problem where that is not in it."""
    if after is None:
        return 0
    try:
        return [name(item) for item in items].index(str(after[0])) + 1
    except ValueError as error:
        raise Problem(_UNKNOWN) from error


def read_size(params: QueryDict) -> int:
    """How many items a page has at most. Raises Problem for no such number."""
    return read_number("limit", params.get("limit", str(DEFAULT_SIZE)), 1, MAX_SIZE)


def make_cursor(*place: str | int) -> str:
    """A place in a list as one word that goes into addresses (RFC 4648, section 5)."""
    return base64.urlsafe_b64encode(msgspec.json.encode(place)).decode().rstrip("=")


def read_cursor(params: QueryDict) -> list[str | int] | None:
    """The place that a cursor holds, of at least one value; None without one. Raises Problem for another word."""
    raw = params.get("cursor")
    if not raw:
        return None
    try:
        place = msgspec.json.decode(base64.urlsafe_b64decode(raw + "=" * (-len(raw) % 4)), type=list[str | int])
    except (binascii.Error, msgspec.DecodeError, UnicodeError, ValueError) as error:
        raise Problem(_UNKNOWN) from error
    if not place:
        raise Problem(_UNKNOWN)
    for value in place:
        if isinstance(value, str):
            check_text("cursor", value)
        elif not 0 <= value <= MAX_NUMBER:
            raise Problem(_UNKNOWN)
    return place


def _checked(order: Sequence[str], place: list[str | int]) -> list[str | int]:
    kinds = [int if field.lstrip("-") in ("pk", "id") else str for field in order]
    if len(place) != len(kinds) or not all(map(isinstance, place, kinds)):
        raise Problem(_UNKNOWN)
    return place


def _later(order: Sequence[str], place: list[str | int]) -> Q:
    """Rows that come after a place: later in the first field, or equal there and later in the second, and so on."""
    found, equal = Q(), Q()
    for field, value in zip(order, place, strict=True):
        column = field.lstrip("-")
        found |= equal & Q(**{f"{column}__{'lt' if field.startswith('-') else 'gt'}": value})
        equal &= Q(**{column: value})
    return found


def _value(row: Model, field: str) -> str | int:
    value: Any = row
    for part in field.lstrip("-").split("__"):
        value = getattr(value, part)
    return value  # type: ignore[no-any-return]


def _following(place: str, params: QueryDict, path: str) -> str | None:
    kept = {k: v for k, v in params.items() if k != "cursor"}
    return f"{path}?{urlencode({**kept, 'cursor': place})}" if place else None
