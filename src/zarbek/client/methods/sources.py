"""Where a portal gathers by itself: repositories and running services."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from zarbek.client import values as kinds
from zarbek.client.methods.caller import Caller, release_path

if TYPE_CHECKING:
    from zarbek.client.values.sources import CallResult, RunningService, Source


class Sources(Caller):
    """Where a portal gathers by itself: repositories and running services."""

    def add_source(
        self, slug: str, address: str, folder: str = "", *, poll_minutes: int = 0, tags: str = "v*", branch: str = ""
    ) -> Source:
        """Register a repository, or change how it is watched."""
        body = {"address": address, "folder": folder, "poll_minutes": poll_minutes, "tags": tags, "branch": branch}
        return self._post(f"/projects/{quote(slug)}/sources", body, kinds.Source)

    def sources(self, slug: str) -> list[Source]:
        """The repositories that a project is gathered from."""
        return self._get(f"/projects/{quote(slug)}/sources", list[kinds.Source])

    def poll(self, source_id: int) -> Source:
        """See now what a repository has that the portal has not."""
        return self._post(f"/sources/{source_id}/poll", {}, kinds.Source)

    def ahead(self) -> list[Source]:
        """Repositories that have what the portal has not published."""
        return self._get("/ahead", list[kinds.Source])

    def remove_source(self, source_id: int) -> None:
        """Gather a repository no more; what was published of it stays."""
        self._delete(f"/sources/{source_id}")

    def services(self, slug: str) -> list[RunningService]:
        """The running services that a project is gathered from; of their headers only the names."""
        return self._get(f"/projects/{quote(slug)}/services", list[kinds.RunningService])

    def set_services(self, slug: str, services: list[dict[str, Any]]) -> list[RunningService]:
        """Exactly these: name, address, server, strip, headers, poll_minutes each."""
        return self._post(f"/projects/{quote(slug)}/services", services, list[kinds.RunningService], "PUT")

    def poll_services(self, slug: str) -> list[RunningService]:
        """Ask them for their descriptions now; what changed is published as the preview ``running``."""
        return self._post(f"/projects/{quote(slug)}/services/poll", {}, list[kinds.RunningService])

    def call(self, slug: str, operation: str, server: str, *, version: str = "latest",
             values: dict[str, dict[str, Any]] | None = None, body: str = "", media_type: str = "",
             send: bool = True) -> CallResult:  # fmt: skip
        """Send a request to a server that the project allows: what came back, and whether it fits."""
        wanted = {"operation": operation, "server": server, "values": values or {}, "body": body,
                  "media_type": media_type, "send": send}  # fmt: skip
        return self._post(f"{release_path(slug, version)}/calls", wanted, kinds.CallResult)
