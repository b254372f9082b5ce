"""Where a portal gathers by itself: repositories and running services."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from urllib.parse import quote

from zarbek.client import values as kinds
from zarbek.client.methods.caller import Caller, release_path

if TYPE_CHECKING:
    from zarbek.client.values.sources import CallResult, Database, RunningService, Source


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

    def database(self, slug: str) -> Database:
        """The database whose catalogue a project is gathered with. Raises PortalProblem where there is none."""
        return self._get(f"/projects/{quote(slug)}/database", kinds.Database)

    def set_database(
        self, slug: str, address: str, *, password_from: str = "", schemas: dict[str, str] | None = None,
        poll_minutes: int = 0,
    ) -> Database:  # fmt: skip
        """Gather a project with the catalogue of a database. password_from: the variable of the portal's environment
        that has its password. schemas: those to look at, each with the database and schema in which its tables lie in
        the model."""
        body = {"address": address, "password_from": password_from, "schemas": schemas or {},
                "poll_minutes": poll_minutes}  # fmt: skip
        return self._post(f"/projects/{quote(slug)}/database", body, kinds.Database, "PUT")

    def poll_database(self, slug: str) -> Database:
        """Ask it what it has, now; what changed is published as the preview ``running``."""
        return self._post(f"/projects/{quote(slug)}/database/poll", {}, kinds.Database)

    def remove_database(self, slug: str) -> None:
        """Ask it no more; what was published of it stays."""
        self._delete(f"/projects/{quote(slug)}/database")

    def call(self, slug: str, operation: str, server: str, *, version: str = "latest",
             values: dict[str, dict[str, Any]] | None = None, body: str = "", media_type: str = "",
             send: bool = True) -> CallResult:  # fmt: skip
        """Send a request to a server that the project allows: what came back, and whether it fits."""
        wanted = {"operation": operation, "server": server, "values": values or {}, "body": body,
                  "media_type": media_type, "send": send}  # fmt: skip
        return self._post(f"{release_path(slug, version)}/calls", wanted, kinds.CallResult)
