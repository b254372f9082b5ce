"""Publishing, and watching it."""

from __future__ import annotations

import json
import os
import tempfile
import time
from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path
from typing import Any

import msgspec
from django.conf import settings
from django.http import HttpResponse, StreamingHttpResponse
from rest_framework.parsers import BaseParser
from rest_framework.request import Request

from zarbek.core.errors import BundleRefused
from zarbek.core.linking.versions import check_version
from zarbek.core.material.archives import is_archive
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.model.bundle import Manifest
from zarbek.service.accounts.permissions import require_someone
from zarbek.service.catalog.actions.projects import check_slug
from zarbek.service.catalog.permissions import require_publisher
from zarbek.service.common.api import PAGING, ApiView, Parameter, describe, read_flag
from zarbek.service.common.asker import for_asker
from zarbek.service.common.conditional import json_response
from zarbek.service.common.paging import page_of
from zarbek.service.common.problems import Refused, TooLarge, UnsupportedMediaType
from zarbek.service.publishing.actions.runs import cancel_run, keep_upload, retry_run, start_run
from zarbek.service.publishing.queries import get_run, list_runs
from zarbek.service.publishing.run_data import LogLineView, RunView, run_view

_CHUNK = 1 << 20
#: Of a bundle or an archive.
_TYPES = frozenset({
    "application/zip", "application/octet-stream", "application/x-tar", "application/gzip", "application/x-gzip",
    "application/x-xz", "application/x-bzip2",
})  # fmt: skip
_EVENTS_FOR_S = 600.0


class RunPage(msgspec.Struct):
    """next: the address of the runs that follow, or null."""

    items: list[RunView]
    total: int
    next: str | None


class RawBundle(BaseParser):
    """Leaves the body unread, for the view to stream."""

    media_type = "application/zip"

    def parse(self, stream, media_type=None, parser_context=None):  # type: ignore[no-untyped-def]
        """Nothing: the view reads the body."""
        return {}


class Runs(ApiView):
    """The runs of the portal, and publishing."""

    parser_classes = [RawBundle]

    @describe(id="listRuns", answer=RunPage,
              parameters=(*PAGING, Parameter("project", "Only runs of this project."), Parameter("state", "queued, running, done or failed.")))  # fmt: skip
    def get(self, request: Request) -> HttpResponse:
        """List publish runs, newest first."""
        rows = list_runs(request.query_params.get("project", ""), request.query_params.get("state", ""))
        page = page_of(rows, ("-id",), request.query_params, request.path)
        return json_response(request, {**page, "items": [run_view(run) for run in page["items"]]})

    @describe(id="publishBundle", answer=RunView, status=202, body="application/zip",
              parameters=(Parameter("project", "Slug; the manifest's if left out. An archive has none."),
                          Parameter("version", "The manifest's if left out. An archive has none."),
                          Parameter("preview", "true for a preview, which the next one replaces.", "boolean"),
                          Parameter("dry", "true to report only and store nothing.", "boolean")))  # fmt: skip
    def post(self, request: Request) -> HttpResponse:
        """Publish a bundle as a release, or an archive (ZIP, tar) of pages or sources, which the portal gathers. Sending
        the same again changes nothing."""
        named = request.query_params.get("project", "")
        require_publisher(check_slug(named)) if named else require_someone()
        if request.content_type.partition(";")[0] not in _TYPES:
            raise UnsupportedMediaType("Send the bundle's bytes as application/zip.")
        part, digest = receive_upload(request)
        try:
            slug, version, sent = _kept(part, digest, named, request.query_params.get("version", ""))
        finally:
            Path(part).unlink(missing_ok=True)
        run, is_new = start_run(
            project=slug, version=version, **sent,
            is_preview=read_flag(request, "preview"), is_dry=read_flag(request, "dry"),
            actor=request.user.get_username(), idempotency_key=request.headers.get("Idempotency-Key", "")[:100],
        )  # fmt: skip
        response = json_response(request, run_view(run, is_new=is_new))
        response.status_code = 202 if is_new else 200
        response["Location"] = f"/api/v1/runs/{run.pk}"
        return response


def _kept(part: str, digest: str, project: str, version: str) -> tuple[str, str, dict[str, Any]]:
    """What was sent, kept for the run that it begins: project, version, and where that has it from."""
    if is_archive(Path(part)):
        if not project or not version:
            raise Refused("An archive does not say what it is of: give project and version in the address.")
        require_publisher(check_slug(project))
        kept = check_version(version)
        return project, kept, {"origin": {"archive": keep_upload(part, digest, "archive")}}
    manifest = inspect_upload(part)
    slug = check_slug(project or manifest.project)
    require_publisher(slug)
    kept = check_version(version or manifest.version)
    return slug, kept, {"bundle": keep_upload(part, digest), "bundle_digest": digest}


def receive_upload(request: Request) -> tuple[str, str]:
    """Write the body, which is here as a whole, to a file; (its path, SHA-256). Nothing stays where that
    cannot be done. Raises TooLarge, and OSError for a disk that takes no more."""
    limit = settings.MAX_UPLOAD_BYTES
    folder = Path(settings.MEDIA_ROOT, "bundles")
    folder.mkdir(parents=True, exist_ok=True)
    handle, path = tempfile.mkstemp(prefix="upload-", dir=folder)
    digest, size = sha256(), 0
    try:
        with os.fdopen(handle, "wb") as out:
            while chunk := request.stream.read(_CHUNK) if request.stream else b"":
                size += len(chunk)
                if size > limit:
                    raise TooLarge(f"A bundle may have {limit // 2**20} MiB at most.")
                digest.update(chunk)
                out.write(chunk)
    except BaseException:
        Path(path).unlink(missing_ok=True)
        raise
    return path, digest.hexdigest()


def inspect_upload(path: str) -> Manifest:
    """Read a bundle from end to end, so that what is refused is refused at once."""
    try:
        with BundleReader(Path(path)) as bundle:
            for lines in (bundle.symbols(), bundle.aliases(), bundle.scopes(), bundle.pages(), bundle.findings()):
                for _ in lines:
                    pass
            for name in bundle.asset_names():
                bundle.asset(name)
            return bundle.manifest
    except BundleRefused as error:
        raise Refused(str(error)) from error


class RunDetail(ApiView):
    """One run."""

    @describe(id="getRun", answer=RunView)
    def get(self, request: Request, run_id: int) -> HttpResponse:
        """The state of one run."""
        return json_response(request, run_view(get_run(run_id)))


class RunCancel(ApiView):
    """Ending a run."""

    @describe(id="cancelRun", answer=RunView)
    def post(self, request: Request, run_id: int) -> HttpResponse:
        """End a run that waits or goes; nothing of it is shown."""
        run = get_run(run_id)
        require_publisher(run.project)
        cancel_run(run, request.user.get_username())
        return json_response(request, run_view(get_run(run_id)))


class RunRetry(ApiView):
    """Trying a failed run again."""

    @describe(id="retryRun", answer=RunView, status=202)
    def post(self, request: Request, run_id: int) -> HttpResponse:
        """Try again what a failed run was to publish."""
        run = get_run(run_id)
        require_publisher(run.project)
        response = json_response(request, run_view(retry_run(run, request.user.get_username())))
        response.status_code = 202
        return response


class RunLog(ApiView):
    """What a run has told."""

    @describe(id="getRunLog", answer=list[LogLineView])
    def get(self, request: Request, run_id: int) -> HttpResponse:
        """What a run has said, oldest first."""
        lines = get_run(run_id).lines.values("at", "level", "text")
        return json_response(request, [LogLineView(**line) for line in lines])


class RunEvents(ApiView):
    """Progress as Server-Sent Events (HTML standard, section 9.2)."""

    @describe(id="watchRun", answer=str, media_type="text/event-stream")
    def get(self, request: Request, run_id: int) -> StreamingHttpResponse:
        """Follow a run as it goes."""
        get_run(run_id)
        response = StreamingHttpResponse(for_asker(run_events(run_id)), content_type="text/event-stream")
        response["Cache-Control"] = "no-cache"
        response["X-Accel-Buffering"] = "no"
        return response


def run_events(run_id: int) -> Iterator[bytes]:
    """``run`` events when something changed, ``log`` events for lines; ends with the run."""
    last_state, last_line = b"", 0
    until = time.monotonic() + _EVENTS_FOR_S
    while time.monotonic() < until:
        run = get_run(run_id)
        for line in run.lines.filter(pk__gt=last_line):
            last_line = line.pk
            text = json.dumps({"at": line.at.isoformat(), "level": line.level, "text": line.text})
            yield f"event: log\ndata: {text}\n\n".encode()
        state = msgspec.json.encode(run_view(run))
        if state != last_state:
            last_state = state
            yield b"event: run\ndata: " + state + b"\n\n"
        if run.state in ("done", "failed"):
            return
        time.sleep(0.25)
