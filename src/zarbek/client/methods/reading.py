"""Pages, lists and search."""

from __future__ import annotations

from collections.abc import Iterator
from typing import TYPE_CHECKING
from urllib.parse import quote, urlencode

from zarbek.client import values
from zarbek.client.methods.caller import API, Caller, release_path

if TYPE_CHECKING:
    from zarbek.client.values.files import FilePage, ListedFile
    from zarbek.client.values.interfaces import ListedOperation
    from zarbek.client.values.pages import GuidePage, ListedSymbol, MemberDetail, Navigation, SymbolPage
    from zarbek.client.values.projects import Hit, Referrer


class Reading(Caller):
    """Pages, lists and search."""

    def search(
        self, query: str, *, project: str = "", kind: str = "", language: str = "", version: str = "", limit: int = 20
    ) -> list[Hit]:  # fmt: skip
        """The best hits for a query, the best first; limit: how many at most."""
        return self._get(
            "/search",
            list[values.Hit],
            q=query,
            project=project,
            kind=kind,
            language=language,
            version=version,
            limit=limit,
        )

    def contents(self, slug: str, version: str = "latest") -> Navigation:
        """A release's modules and guides."""
        return self._get(f"{release_path(slug, version)}/contents", values.Navigation)

    def all_contents(self) -> Iterator[Navigation]:
        """The first modules and guides of each project's newest release, by slug."""
        return self._pages("/contents", values.Navigation)

    def symbol(self, slug: str, path: str, version: str = "latest", *, language: str = "") -> SymbolPage:
        """The page of a symbol, by its path or any of its names. language: of the reader, as BCP 47 has it."""
        place = f"{release_path(slug, version)}/symbols/{quote(path)}"
        return self._get(place, values.SymbolPage, language=language)

    def symbols(self, slug: str, version: str = "latest", *, kind: str = "") -> Iterator[ListedSymbol]:
        """Public symbols of a release by path, all or those of a kind."""
        return self._pages(f"{release_path(slug, version)}/symbols", values.ListedSymbol, kind=kind)

    def members(self, slug: str, path: str, version: str = "latest", *, language: str = "") -> Iterator[MemberDetail]:
        """The members of a type in full, in the order of its source. language: of the reader, as BCP 47 has it."""
        place = f"{release_path(slug, version)}/members/{quote(path)}"
        return self._pages(place, values.MemberDetail, language=language)

    def link_index(self, slug: str, version: str = "latest") -> bytes:
        """All names of a release, as far as links to it rest on them: JSON for previews of its own version."""
        return self._transport.call("GET", f"{API}{release_path(slug, version)}/index")

    def elements(self, slug: str, version: str, paths: list[str]) -> bytes:
        """Up to 20 elements of a release as they are kept, by path: JSON for previews of its own version."""
        asked = urlencode({"path": paths}, doseq=True)
        return self._transport.call("GET", f"{API}{release_path(slug, version)}/elements?{asked}")

    def operations(
        self, slug: str, version: str = "latest", *, api: str = "", tag: str = ""
    ) -> Iterator[ListedOperation]:
        """Operations of a release by path: all, or those of an API, with a tag."""
        return self._pages(f"{release_path(slug, version)}/operations", values.ListedOperation, api=api, tag=tag)

    def guide(self, slug: str, path: str, version: str = "latest") -> GuidePage:
        """The page of a guide, by its path."""
        return self._get(f"{release_path(slug, version)}/guides/{quote(path)}", values.GuidePage)

    def files(self, slug: str, version: str = "latest") -> Iterator[ListedFile]:
        """The files of a release that readers may look into, by name."""
        return self._pages(f"{release_path(slug, version)}/files", values.ListedFile)

    def file(self, slug: str, path: str, version: str = "latest", *, begin: int = 1) -> FilePage:
        """A file from a line on, as far as is shown at once: its comments as prose beside its code."""
        place = f"{release_path(slug, version)}/files/{quote(path)}"
        return self._get(place, values.FilePage, **({"from": begin} if begin > 1 else {}))

    def links(self, slug: str, version: str = "latest") -> Iterator[str]:
        """Every mention of a release with its link, a line of JSON each."""
        with self._transport.stream(f"{API}{release_path(slug, version)}/links", "application/x-ndjson") as response:
            yield from (line.decode().rstrip("\n") for line in response)

    def referrers(self, slug: str, path: str) -> list[Referrer]:
        """Who refers to a symbol."""
        return self._get(f"/projects/{quote(slug)}/referrers/{quote(path)}", list[values.Referrer])
