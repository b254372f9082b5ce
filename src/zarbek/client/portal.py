"""A portal, as programs use it."""

from __future__ import annotations

from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path
from typing import Any, TypeVar
from urllib.parse import quote

import httpx
import msgspec
from httpx_sse import EventSource

from zarbek.client.transport import Door
from zarbek.client.values import Hit, LogLine, Project, Referrer, Run, Token

T = TypeVar("T")
_API = "/api/v1"


class Portal:
    """A portal at an address.

    Every method raises PortalProblem for an answer that says no, and PortalUnreachable for none.
    """

    def __init__(
        self, url: str, token: str = "", *, timeout_s: float = 30.0, transport: httpx.BaseTransport | None = None
    ) -> None:
        self._door = Door(url, token, timeout_s=timeout_s, transport=transport)
        self.url = self._door.url

    def __enter__(self) -> Portal:
        return self

    def __exit__(self, *_: object) -> None:
        self._door.close()

    def _get(self, path: str, kind: type[T], /, **params: Any) -> T:
        wanted = {k: v for k, v in params.items() if v not in ("", None)}
        return msgspec.json.decode(self._door.call("GET", _API + path, params=wanted), type=kind)

    def _pages(self, path: str, kind: type[T], /, **params: Any) -> Iterator[T]:
        address = _API + path
        wanted = {k: v for k, v in params.items() if v not in ("", None)}
        while address:
            raw = msgspec.json.decode(self._door.call("GET", address, params=wanted))
            yield from msgspec.convert(raw["items"], list[kind])  # type: ignore[valid-type]
            address, wanted = raw["next"] or "", None  # type: ignore[assignment]

    # Projects -----------------------------------------------------------------------------

    def projects(self) -> Iterator[Project]:
        """Every project, by slug, fetched as they are asked for."""
        return self._pages("/projects", Project)

    def project(self, slug: str) -> Project:
        return self._get(f"/projects/{quote(slug)}", Project)

    def manifest(self, slug: str, version: str = "latest") -> dict[str, Any]:
        return self._get(f"{_release(slug, version)}/manifest", dict[str, Any])

    # Publishing ---------------------------------------------------------------------------

    def publish(
        self, bundle: Path, *, project: str = "", version: str = "", preview: bool = False, dry: bool = False
    ) -> Run:
        """Upload a bundle and queue its run; the same content again gives the run it had."""
        digest = sha256(bundle.read_bytes()).hexdigest()
        key = f"{digest[:40]}:{project}:{version}:{int(preview)}{int(dry)}"
        params = {"project": project, "version": version, "preview": str(preview).lower(), "dry": str(dry).lower()}
        headers = {"Content-Type": "application/zip"}
        if not preview and not dry:
            headers["Idempotency-Key"] = sha256(key.encode()).hexdigest()
        with bundle.open("rb") as handle:
            body = self._door.call(
                "POST",
                f"{_API}/runs",
                params={k: v for k, v in params.items() if v},
                headers=headers,
                content=handle.read(),
            )
        return msgspec.json.decode(body, type=Run)

    def run(self, run_id: int) -> Run:
        return self._get(f"/runs/{run_id}", Run)

    def runs(self, project: str = "", state: str = "") -> Iterator[Run]:
        """Runs, newest first."""
        return self._pages("/runs", Run, project=project, state=state)

    def log(self, run_id: int) -> list[LogLine]:
        return self._get(f"/runs/{run_id}/log", list[LogLine])

    def watch(self, run_id: int) -> Iterator[Run | LogLine]:
        """What a run does, as it does it; ends with the run."""
        with self._door.stream(f"{_API}/runs/{run_id}/events", "text/event-stream") as response:
            for event in EventSource(response).iter_sse():
                kind: type[Run] | type[LogLine] = LogLine if event.event == "log" else Run
                yield msgspec.json.decode(event.data, type=kind)

    def add_source(self, slug: str, address: str, folder: str = "") -> dict[str, Any]:
        return self._post(f"/projects/{quote(slug)}/sources", {"address": address, "folder": folder}, dict[str, Any])

    def fetch(self, slug: str, *, tag: str = "", tags: str = "", branch: str = "") -> list[Run]:
        """Have the portal gather a tag, all new tags of a pattern, or a branch as a preview."""
        body = {"tag": tag, "tags": tags, "branch": branch}
        return self._post(f"/projects/{quote(slug)}/fetches", body, list[Run])

    def _post(self, path: str, body: dict[str, Any], kind: type[T]) -> T:
        return msgspec.json.decode(self._door.call("POST", _API + path, json=body), type=kind)

    # Reports and links --------------------------------------------------------------------

    def run_report(self, run_id: int) -> dict[str, Any]:
        return self._get(f"/runs/{run_id}/report", dict[str, Any])

    def report(self, slug: str, version: str = "") -> dict[str, Any]:
        return self._get(f"/projects/{quote(slug)}/report", dict[str, Any], version=version)

    def findings(self, **filters: str) -> Iterator[dict[str, Any]]:
        """Findings of the newest releases; filters: project, family, rule, severity, state, owner."""
        return self._pages("/findings", dict[str, Any], **filters)

    def links(self, slug: str, version: str = "latest") -> Iterator[str]:
        """Every mention of a release with its link, a line of JSON each."""
        with self._door.stream(f"{_API}{_release(slug, version)}/links", "application/x-ndjson") as response:
            yield from response.iter_lines()

    def referrers(self, slug: str, path: str) -> list[Referrer]:
        return self._get(f"/projects/{quote(slug)}/referrers/{quote(path)}", list[Referrer])

    # Reading ------------------------------------------------------------------------------

    def search(
        self, query: str, *, project: str = "", kind: str = "", language: str = "", version: str = "", limit: int = 20
    ) -> list[Hit]:  # fmt: skip
        return self._get(
            "/search", list[Hit], q=query, project=project, kind=kind, language=language, version=version, limit=limit
        )

    def symbol(self, slug: str, path: str, version: str = "latest") -> dict[str, Any]:
        return self._get(f"{_release(slug, version)}/symbols/{quote(path)}", dict[str, Any])

    def guide(self, slug: str, path: str, version: str = "latest") -> dict[str, Any]:
        return self._get(f"{_release(slug, version)}/guides/{quote(path)}", dict[str, Any])

    # Tokens -------------------------------------------------------------------------------

    def tokens(self) -> list[Token]:
        return self._get("/tokens", list[Token])

    def create_token(self, name: str, *, project: str = "", days: int | None = None) -> Token:
        return self._post("/tokens", {"name": name, "project": project, "days": days}, Token)

    def revoke_token(self, token_id: int) -> None:
        self._door.call("DELETE", f"{_API}/tokens/{token_id}")


def _release(slug: str, version: str) -> str:
    return f"/projects/{quote(slug)}/releases/{quote(version or 'latest', safe='')}"
