"""Services that describe themselves: fetched politely, gathered together, published as a preview."""

from __future__ import annotations

import zipfile
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from urllib.parse import unquote, urlsplit

import httpx
import tomli_w
from django.conf import settings
from django.core.files.storage import default_storage

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.interfaces.documents import read_document
from zarbek.core.sources.interfaces.remote_documents import FetchFailed, fetch_referred, is_allowed
from zarbek.service.catalog.models import Project
from zarbek.service.common.egress import EgressTransport, get_bounded
from zarbek.service.publishing.actions.runs import start_run
from zarbek.service.publishing.models import Run
from zarbek.service.sources.models import RunningService

#: The preview that follows what runs.
RUNNING = "running"
MAX_BYTES = 16 * 2**20
_TYPES = ("json", "yaml", "text/plain", "octet-stream", "xml", "")
_AGENT = "Zarbek (reference portal)"


class ServiceSilent(Exception):
    """A service that gave no description; ``str()`` says why."""


@dataclass(slots=True)
class Asked:
    """What a service said. files: name to bytes, None for what has not changed."""

    files: dict[str, bytes] | None = None
    entity_tag: str = ""
    problem: str = ""


def ask_service(service: RunningService) -> Asked:
    """Ask a service for its description, only for what differs from the last. Touches no database."""
    try:
        with httpx.Client(
            transport=EgressTransport(settings.ALLOWED_PRIVATE), timeout=settings.URL_TIMEOUT_S,
            follow_redirects=False, headers={"User-Agent": _AGENT},
        ) as http:  # fmt: skip
            return _ask(service, http)
    except (ServiceSilent, FetchFailed, UnreadableText, httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
        return Asked(problem=str(error).rstrip(".") or type(error).__name__)


def _ask(service: RunningService, http: httpx.Client) -> Asked:
    headers = dict(service.headers)
    if service.entity_tag and service.material:
        headers["If-None-Match"] = service.entity_tag
    data, tag = _get(http, service.address, headers)
    if data is None:
        return Asked()
    document = read_document(_file_of(service.address), data)
    if not isinstance(document.value, dict) or not {"openapi", "swagger", "asyncapi"} & document.value.keys():
        raise ServiceSilent("What it serves is no OpenAPI or AsyncAPI description")
    files = {_file_of(service.address): data}
    plain = dict(service.headers)
    origin = "{0.scheme}://{0.netloc}/".format(urlsplit(service.address))

    def bring(address: str) -> bytes:
        found, _ = _get(http, address, plain)
        return found or b""

    for address, found in fetch_referred([(service.address, document)], bring, [origin]):
        if isinstance(found, bytes):
            files[_file_of(address)] = found
    return Asked(files, tag)


def _get(http: httpx.Client, address: str, headers: dict[str, str]) -> tuple[bytes | None, str]:
    """(bytes, entity tag); None for what has not changed. Raises ServiceSilent."""
    if not is_allowed(address, [address]):
        raise ServiceSilent("The address is none of HTTP")
    response = get_bounded(http, address, limit=MAX_BYTES, headers=headers)
    if response.status_code == 304:
        return None, response.headers.get("etag", "")
    if response.status_code != 200:
        raise ServiceSilent(f"It answers {response.status_code} {response.reason_phrase}".rstrip())
    kind = response.headers.get("content-type", "").partition(";")[0].strip().lower()
    if not any(word in kind if word else not kind for word in _TYPES):
        raise ServiceSilent(f"It serves {kind}, which is no description")
    return response.content, response.headers.get("etag", "")[:200]


def _file_of(address: str) -> str:
    """Where what an address serves lies among the others of its host: as it is addressed."""
    path = PurePosixPath(unquote(urlsplit(address).path).lstrip("/") or "openapi.json")
    return str(path) if path.suffix in (".json", ".yaml", ".yml") else f"{path}.json"


def known_of(project: Project) -> dict[str, str]:
    """What the portal knows of a project, as its project file has it."""
    known = {"slug": project.slug, "title": project.title, "summary": project.summary, "owner": project.owner}
    return {key: value for key, value in known.items() if value}


def write_material(project: Project, folder: Path) -> int:
    """The descriptions of all services of a project as a source folder, with its project file; how many.

    Names in the archives are ours, from addresses; they are held inside of the folder all the same.
    """
    places: dict[str, dict[str, str]] = {}
    count = 0
    for service in project.services.exclude(material=""):
        base = (folder / service.name).resolve()
        with default_storage.open(service.material) as file, zipfile.ZipFile(file) as archive:
            for name in archive.namelist():
                path = (base / name).resolve()
                if path.is_relative_to(base):
                    path.parent.mkdir(parents=True, exist_ok=True)
                    path.write_bytes(archive.read(name))
        own = _file_of(service.address)
        entry = base / f"{service.name}{PurePosixPath(own).suffix}"
        _lift(base / own, entry)
        places[service.name] = {"server": service.server, "strip": service.strip}
        count += 1
    said = {**known_of(project), "services": places,
            "servers": sorted({s["server"] for s in places.values() if s["server"]})}  # fmt: skip
    (folder / "zarbek.toml").write_text(tomli_w.dumps(said), encoding="utf-8")
    return count


def _lift(path: Path, entry: Path) -> None:
    """The description under its service's name, beside which references to other files still hold."""
    if path != entry:
        path.rename(path.with_name(entry.name))


def publish_running(project: Project, *, actor: str) -> Run:
    """Gather what the services said last, as the preview that follows them."""
    run, _ = start_run(project=project.slug, version=RUNNING, is_preview=True, actor=actor, origin={"services": "all"})
    return run
