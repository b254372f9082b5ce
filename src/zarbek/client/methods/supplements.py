"""Supplements that are written in the portal."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING
from urllib.parse import quote

from zarbek.client import values
from zarbek.client.methods.caller import API, Caller

if TYPE_CHECKING:
    from zarbek.client.values.pages import SymbolPage
    from zarbek.client.values.supplements import Revision, Written


class Supplements(Caller):
    """Supplements that are written in the portal."""

    def supplements(self, slug: str) -> Iterator[Revision]:
        """Those of a project that were written in the portal, as they are now, by name."""
        return self._pages(f"/projects/{quote(slug)}/written", values.Revision)

    def supplement_revisions(self, slug: str, name: str) -> list[Revision]:
        """All that a supplement has been, newest first."""
        return self._get(f"/projects/{quote(slug)}/written/{quote(name)}", list[values.Revision])

    def write_supplement(self, slug: str, name: str, text: str, *, reason: str, after: int | None = None) -> Written:
        """Write a supplement, or write it anew. name: as ``booking.md``. after: the revision that it is made from, 0
        for none; then nothing is written where somebody else has written since."""
        body = {"text": text, "reason": reason, **({"after": after} if after is not None else {})}
        return self._post(f"/projects/{quote(slug)}/written/{quote(name)}", body, values.Written, "PUT")

    def remove_supplement(self, slug: str, name: str, *, reason: str) -> Written:
        """Remove a supplement; its revisions are kept."""
        body = {"text": "", "reason": reason}
        return self._post(f"/projects/{quote(slug)}/written/{quote(name)}", body, values.Written, "PUT")

    def preview_supplement(self, slug: str, path: str, text: str) -> SymbolPage:
        """The page of an element as it would be with a text; nothing is kept."""
        return self._post(f"/projects/{quote(slug)}/written", {"text": text, "path": path}, values.SymbolPage)

    def supplement_patch(self, slug: str) -> str:
        """A patch that adds all that was written to the project's repository, as ``git apply`` takes it."""
        return self._transport.call("GET", f"{API}/projects/{quote(slug)}/written.patch").decode()
