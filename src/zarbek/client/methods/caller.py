"""How every call is made: its address, its parameters, and the value its answer is."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any, TypeVar
from urllib.parse import quote

import msgspec

from zarbek.client.transport import HttpTransport

T = TypeVar("T")
API = "/api/v1"
#: Items a page, as many as the portal gives.
_PAGE = 500


class Caller:
    """What the methods of a portal stand on.

    Every call raises PortalProblem for an answer that says no, and PortalUnreachable for none.
    """

    _transport: HttpTransport

    def _get(self, path: str, kind: type[T], /, **params: Any) -> T:
        """The answer to a question; parameters that are empty or None are left out."""
        return msgspec.json.decode(self._transport.call("GET", API + path, params=_given(params)), type=kind)

    def _pages(self, path: str, kind: type[T], /, **params: Any) -> Iterator[T]:
        """The items of a list, page after page, each fetched when it is come to."""
        address, given = API + path, _given({"limit": _PAGE, **params})
        while address:
            raw = msgspec.json.decode(self._transport.call("GET", address, params=given))
            yield from msgspec.convert(raw["items"], list[kind])  # type: ignore[valid-type]
            address, given = raw["next"] or "", None

    def _post(self, path: str, body: dict[str, Any] | Sequence[Any], kind: type[T], method: str = "POST") -> T:
        return msgspec.json.decode(self._transport.call(method, API + path, json=body), type=kind)

    def _put(self, path: str, body: dict[str, Any]) -> None:
        """For what is answered with nothing."""
        self._transport.call("PUT", API + path, json=body)

    def _delete(self, path: str, /, **params: Any) -> None:
        self._transport.call("DELETE", API + path, params=_given(params))


def _given(params: dict[str, Any]) -> dict[str, Any] | None:
    return {k: v for k, v in params.items() if v not in ("", None)}


def release_path(slug: str, version: str) -> str:
    """A release's address below the API's; version: empty for the latest."""
    return f"/projects/{quote(slug)}/releases/{quote(version or 'latest', safe='')}"
