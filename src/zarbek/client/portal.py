"""A portal, as programs use it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from hashlib import sha256
from pathlib import Path
from typing import Any, TypeVar
from urllib.parse import quote

import httpx
import msgspec
from httpx_sse import EventSource

from zarbek.client.transport import HttpTransport
from zarbek.client.values import Hit, LogLine, Project, Referrer, Run, Token

T = TypeVar("T")
_API = "/api/v1"


class Portal:
    """A portal at an address.

    Making one raises TokenUnreadable for a token that cannot be one. Every method raises PortalProblem for
    an answer that says no, and PortalUnreachable for none.
    """

    def __init__(
        self, url: str, token: str = "", *, timeout_s: float = 30.0, transport: httpx.BaseTransport | None = None
    ) -> None:
        self._transport = HttpTransport(url, token, timeout_s=timeout_s, transport=transport)
        self.url = self._transport.url

    def __enter__(self) -> Portal:
        return self

    def __exit__(self, *_: object) -> None:
        self._transport.close()

    def _get(self, path: str, kind: type[T], /, **params: Any) -> T:
        wanted = {k: v for k, v in params.items() if v not in ("", None)}
        return msgspec.json.decode(self._transport.call("GET", _API + path, params=wanted), type=kind)

    def _pages(self, path: str, kind: type[T], /, **params: Any) -> Iterator[T]:
        address = _API + path
        wanted = {k: v for k, v in params.items() if v not in ("", None)}
        while address:
            raw = msgspec.json.decode(self._transport.call("GET", address, params=wanted))
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
            body = self._transport.call(
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

    def cancel_run(self, run_id: int) -> Run:
        """End a run that waits or goes."""
        return self._post(f"/runs/{run_id}/cancel", {}, Run)

    def retry_run(self, run_id: int) -> Run:
        """A new run of what a failed one was to publish."""
        return self._post(f"/runs/{run_id}/retry", {}, Run)

    def log(self, run_id: int) -> list[LogLine]:
        return self._get(f"/runs/{run_id}/log", list[LogLine])

    def watch(self, run_id: int) -> Iterator[Run | LogLine]:
        """What a run does, as it does it; ends with the run."""
        with self._transport.stream(f"{_API}/runs/{run_id}/events", "text/event-stream") as response:
            for event in EventSource(response).iter_sse():
                kind: type[Run] | type[LogLine] = LogLine if event.event == "log" else Run
                yield msgspec.json.decode(event.data, type=kind)

    def add_source(
        self, slug: str, address: str, folder: str = "", *, poll_minutes: int = 0, tags: str = "v*", branch: str = ""
    ) -> dict[str, Any]:
        """Register a repository, or change how it is watched."""
        body = {"address": address, "folder": folder, "poll_minutes": poll_minutes, "tags": tags, "branch": branch}
        return self._post(f"/projects/{quote(slug)}/sources", body, dict[str, Any])

    def sources(self, slug: str) -> list[dict[str, Any]]:
        return self._get(f"/projects/{quote(slug)}/sources", list[dict[str, Any]])

    def services(self, slug: str) -> list[dict[str, Any]]:
        """The running services that a project is gathered from; of their headers only the names."""
        return self._get(f"/projects/{quote(slug)}/services", list[dict[str, Any]])

    def set_services(self, slug: str, services: list[dict[str, Any]]) -> list[dict[str, Any]]:
        """Exactly these: name, address, server, strip, headers, poll_minutes each."""
        return self._post(f"/projects/{quote(slug)}/services", services, list[dict[str, Any]], "PUT")

    def poll_services(self, slug: str) -> list[dict[str, Any]]:
        """Ask them for their descriptions now; what changed is published as the preview ``running``."""
        return self._post(f"/projects/{quote(slug)}/services/poll", {}, list[dict[str, Any]])

    def call(self, slug: str, operation: str, server: str, *, version: str = "latest",
             values: dict[str, dict[str, Any]] | None = None, body: str = "", media_type: str = "",
             send: bool = True) -> dict[str, Any]:  # fmt: skip
        """Send a request to a server that the project allows: what came back, and whether it fits."""
        wanted = {"operation": operation, "server": server, "values": values or {}, "body": body,
                  "media_type": media_type, "send": send}  # fmt: skip
        return self._post(f"/projects/{quote(slug)}/releases/{quote(version)}/calls", wanted, dict[str, Any])

    def poll(self, source_id: int) -> dict[str, Any]:
        """See now what a repository has that the portal has not."""
        return self._post(f"/sources/{source_id}/poll", {}, dict[str, Any])

    def ahead(self) -> list[dict[str, Any]]:
        """Repositories that have what the portal has not published."""
        return self._get("/ahead", list[dict[str, Any]])

    def fetch(self, slug: str, *, tag: str = "", tags: str = "", branch: str = "") -> list[Run]:
        """Have the portal gather a tag, all new tags of a pattern, or a branch as a preview."""
        body = {"tag": tag, "tags": tags, "branch": branch}
        return self._post(f"/projects/{quote(slug)}/fetches", body, list[Run])

    def _post(self, path: str, body: dict[str, Any] | Sequence[Any], kind: type[T], method: str = "POST") -> T:
        return msgspec.json.decode(self._transport.call(method, _API + path, json=body), type=kind)

    # Reports and links --------------------------------------------------------------------

    def run_report(self, run_id: int) -> dict[str, Any]:
        return self._get(f"/runs/{run_id}/report", dict[str, Any])

    def report(self, slug: str, version: str = "") -> dict[str, Any]:
        return self._get(f"/projects/{quote(slug)}/report", dict[str, Any], version=version)

    def report_as(self, form: str, slug: str, version: str = "") -> str:
        """The report in another form: sarif, junit, csv, markdown or html."""
        params = {"format": form, **({"version": version} if version else {})}
        return self._transport.call("GET", f"{_API}/projects/{quote(slug)}/report", params=params).decode()

    def findings(self, **filters: str) -> Iterator[dict[str, Any]]:
        """Findings of the releases that are judged; filters: project, family, rule, severity, state,
        owner, target, waived."""
        return self._pages("/findings", dict[str, Any], **filters)

    def finding_groups(self, by: str = "target", **filters: str) -> list[dict[str, Any]]:
        """The same in groups by target, owner or rule, the largest first."""
        return self._get("/findings/groups", list[dict[str, Any]], by=by, **filters)

    def waivers(self, project: str = "") -> Iterator[dict[str, Any]]:
        return self._pages("/waivers", dict[str, Any], project=project)

    def waive(
        self, *, reason: str, until: str, project: str = "", rule: str = "", target: str = "", file: str = "",
        fingerprints: Sequence[str] = (),
    ) -> list[dict[str, Any]]:  # fmt: skip
        """Live with findings until a day (ISO 8601), for a reason."""
        body = {"reason": reason, "until": until, "project": project, "rule": rule, "target": target, "file": file,
                "fingerprints": list(fingerprints)}  # fmt: skip
        return self._post("/waivers", body, list[dict[str, Any]])

    def end_waiver(self, waiver_id: int) -> None:
        self._transport.call("DELETE", f"{_API}/waivers/{waiver_id}")

    def compare(self, slug: str, old: str = "", new: str = "") -> dict[str, Any]:
        """What changed between two releases; the newest against the one before if left out."""
        return self._get(f"/projects/{quote(slug)}/compare", dict[str, Any], old=old, new=new)

    def impact(self, slug: str, name: str = "", *, version: str = "", release: str = "") -> dict[str, Any]:
        """Who refers to a symbol or pattern, or to what a release breaks."""
        return self._get(f"/projects/{quote(slug)}/impact", dict[str, Any], name=name, version=version, release=release)

    def patch(self, slug: str, *, likely: bool = False) -> dict[str, Any]:
        """A unified diff that mends what is wrong beyond doubt, made by the portal."""
        return self._get(f"/projects/{quote(slug)}/patch", dict[str, Any], likely=str(likely).lower())

    def edits(self, slug: str, *, likely: bool = False) -> dict[str, Any]:
        """The same as single edits, for a source that the portal cannot read."""
        return self._get(f"/projects/{quote(slug)}/edits", dict[str, Any], likely=str(likely).lower())

    def policy(self, slug: str) -> dict[str, Any]:
        return self._get(f"/projects/{quote(slug)}/policy", dict[str, Any])

    def set_policy(self, slug: str, policy: dict[str, Any]) -> dict[str, Any]:
        """Hold releases with such findings back from latest; an empty one ends that."""
        return self._post(f"/projects/{quote(slug)}/policy", policy, dict[str, Any], "PUT")

    def override_hold(self, slug: str, version: str, why: str) -> dict[str, Any]:
        return self._post(f"{_release(slug, version)}/hold", {"why": why}, dict[str, Any])

    def set_support(self, slug: str, version: str, support: str) -> dict[str, Any]:
        """support: supported, retired, or empty for the rule."""
        return self._post(f"{_release(slug, version)}/support", {"support": support}, dict[str, Any], "PUT")

    def outside(self) -> dict[str, str]:
        """Where readers are sent for names outside the portal, by namespace."""
        return self._get("/outside", dict[str, str])

    def set_outside(self, wanted: dict[str, str]) -> dict[str, str]:
        return self._post("/outside", wanted, dict[str, str], "PUT")

    def addresses(self, slug: str) -> dict[str, Any]:
        """Addresses of the web that a project links to: how many are asked, and which could not be reached."""
        return self._get(f"/projects/{quote(slug)}/addresses", dict[str, Any])

    def set_addresses(self, slug: str, *, asks: bool, quiet: Sequence[str] = ()) -> dict[str, Any]:
        """Whether a project's addresses are asked, and the hosts that are left alone."""
        body = {"asks": asks, "quiet": list(quiet)}
        return self._post(f"/projects/{quote(slug)}/addresses", body, dict[str, Any], "PUT")

    def quiet_hosts(self) -> list[str]:
        return self._get("/addresses/quiet", list[str])

    def set_quiet_hosts(self, hosts: Sequence[str]) -> list[str]:
        """The hosts that the portal never asks from now on; needs an administrator."""
        return self._post("/addresses/quiet", list(hosts), list[str], "PUT")

    def names(self, project: str = "", *, contested: bool = False) -> Iterator[dict[str, Any]]:
        """Names that projects say are their own; contested: those that several claim and nobody has decided."""
        return self._pages("/names", dict[str, Any], project=project, contested="true" if contested else "")

    def decide_name(self, name: str, projects: Sequence[str]) -> list[dict[str, Any]]:
        """Give a name to one of the projects that claim it, or to several together."""
        return self._post("/names", {"name": name, "projects": list(projects)}, list[dict[str, Any]], "PUT")

    # Removing -----------------------------------------------------------------------------

    def remove_source(self, source_id: int) -> None:
        """Gather a repository no more; what was published of it stays."""
        self._transport.call("DELETE", f"{_API}/sources/{source_id}")

    def remove_release(self, slug: str, version: str) -> None:
        self._transport.call("DELETE", f"{_API}{_release(slug, version)}")

    def remove_project(self, slug: str) -> None:
        """With all its releases, findings, sources and tokens."""
        self._transport.call("DELETE", f"{_API}/projects/{quote(slug)}")

    # Notices ------------------------------------------------------------------------------

    def add_webhook(self, url: str, project: str = "") -> dict[str, Any]:
        """Send events there; the answer holds the secret that signs them."""
        return self._post("/webhooks", {"url": url, "project": project}, dict[str, Any])

    def webhooks(self) -> list[dict[str, Any]]:
        return self._get("/webhooks", list[dict[str, Any]])

    def remove_webhook(self, webhook_id: int) -> None:
        self._transport.call("DELETE", f"{_API}/webhooks/{webhook_id}")

    def deliveries(self, webhook_id: int) -> Iterator[dict[str, Any]]:
        """What was sent, newest first."""
        return self._pages(f"/webhooks/{webhook_id}/deliveries", dict[str, Any])

    def redeliver(self, delivery_id: int) -> dict[str, Any]:
        return self._post(f"/deliveries/{delivery_id}/redelivery", {}, dict[str, Any])

    def set_digests(self, wanted: dict[str, str]) -> dict[str, str]:
        """Mail addresses by team; an empty one ends its mail."""
        return self._post("/digests", wanted, dict[str, str], "PUT")

    def links(self, slug: str, version: str = "latest") -> Iterator[str]:
        """Every mention of a release with its link, a line of JSON each."""
        with self._transport.stream(f"{_API}{_release(slug, version)}/links", "application/x-ndjson") as response:
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
        self._transport.call("DELETE", f"{_API}/tokens/{token_id}")


def _release(slug: str, version: str) -> str:
    return f"/projects/{quote(slug)}/releases/{quote(version or 'latest', safe='')}"
