"""Bundles and the runs that publish them."""

from __future__ import annotations

from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path
from typing import TYPE_CHECKING
from urllib.parse import quote

import msgspec
from sseclient import SSEClient

from zarbek.client import values
from zarbek.client.methods.caller import API, Caller

if TYPE_CHECKING:
    from zarbek.client.values.projects import LogLine, Run


class Publishing(Caller):
    """Bundles and the runs that publish them."""

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
            body = self._transport.call(
                "POST",
                f"{API}/runs",
                params={k: v for k, v in params.items() if v},
                headers=headers,
                content=handle.read(),
            )
        return msgspec.json.decode(body, type=values.Run)

    def run(self, run_id: int) -> Run:
        """A run as it is now."""
        return self._get(f"/runs/{run_id}", values.Run)

    def runs(self, project: str = "", state: str = "") -> Iterator[Run]:
        """Runs, newest first."""
        return self._pages("/runs", values.Run, project=project, state=state)

    def cancel_run(self, run_id: int) -> Run:
        """End a run that waits or goes."""
        return self._post(f"/runs/{run_id}/cancel", {}, values.Run)

    def retry_run(self, run_id: int) -> Run:
        """A new run of what a failed one was to publish."""
        return self._post(f"/runs/{run_id}/retry", {}, values.Run)

    def log(self, run_id: int) -> list[LogLine]:
        """What a run has told so far, oldest first."""
        return self._get(f"/runs/{run_id}/log", list[values.LogLine])

    def watch(self, run_id: int) -> Iterator[Run | LogLine]:
        """What a run does, as it does it; ends with the run."""
        with self._transport.stream(f"{API}/runs/{run_id}/events", "text/event-stream") as response:
            for event in SSEClient(response).events():
                kind: type[Run] | type[LogLine] = values.LogLine if event.event == "log" else values.Run
                yield msgspec.json.decode(event.data, type=kind)

    def fetch(self, slug: str, *, tag: str = "", tags: str = "", branch: str = "") -> list[Run]:
        """Have the portal gather a tag, all new tags of a pattern, or a branch as a preview."""
        body = {"tag": tag, "tags": tags, "branch": branch}
        return self._post(f"/projects/{quote(slug)}/fetches", body, list[values.Run])
