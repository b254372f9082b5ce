"""Runs that the portal gathers itself: in a process of their own, which is ended when it takes too much."""

from __future__ import annotations

import subprocess
import sys
import threading
from pathlib import Path

import msgspec
from django.conf import settings

from zarbek.core.errors import SourceRefused
from zarbek.core.material.bundle_file import digest_file
from zarbek.core.material.processes import kill_group, start_bound
from zarbek.service.catalog.models import Project
from zarbek.service.common.allowed_repositories import reach_repository
from zarbek.service.common.workplaces import workplace
from zarbek.service.publishing.actions.progress import RunProgress
from zarbek.service.publishing.actions.run_state import give_bundle
from zarbek.service.publishing.models import Run
from zarbek.service.sources.databases import load_catalog, write_project_file
from zarbek.service.sources.gather_child import Answer, Request
from zarbek.service.sources.running_services import write_material

_COMMAND = [sys.executable, "-m", "zarbek.service.sources.gather_child"]


def gather_origin(run: Run, progress: RunProgress) -> None:
    """Gather a run's commit, archive, services or database; the run then has a bundle like an uploaded one.

    Raises SourceRefused for an address, ref or transport that is not allowed, and for material that
    takes more than it may.
    """
    out = Path(settings.MEDIA_ROOT, "bundles", f"run-{run.pk}-{run.attempt}.bundle")
    out.parent.mkdir(parents=True, exist_ok=True)
    with workplace("gather") as folder:
        if run.origin.get("archive"):
            request = _archive_request(run, progress, folder, out)
        elif run.origin.get("services"):
            request = _services_request(run, progress, folder, out)
        elif run.origin.get("database"):
            request = _database_request(run, progress, folder, out)
        else:
            request = _repository_request(run, progress, folder, out)
        gather_apart(request, progress)
    with progress.fenced():
        give_bundle(run, f"bundles/{out.name}", digest_file(out))


def _repository_request(run: Run, progress: RunProgress, folder: Path, out: Path) -> Request:
    address, ref = run.origin["address"], run.origin["ref"]
    reach_repository(address)
    # Where the server keeps a local repository is nobody's business.
    progress.log(f"Fetching {ref} of {Path(address).name if address.startswith('/') else address}.")
    return _request(run, folder, out, address=address, ref=ref, inside=run.origin.get("folder") or "")


def _archive_request(run: Run, progress: RunProgress, folder: Path, out: Path) -> Request:
    """What was sent as an archive. Raises SourceRefused where it is no longer kept."""
    archive = Path(settings.MEDIA_ROOT, run.origin["archive"])
    if not archive.is_file():
        raise SourceRefused("The archive is no longer kept. Publish it again.")
    progress.log(f"Gathering the archive that was sent, {archive.stat().st_size / 2**20:.1f} MiB.")
    return _request(run, folder, out, archive=str(archive))


def _services_request(run: Run, progress: RunProgress, folder: Path, out: Path) -> Request:
    """What the project's services said of themselves, put together."""
    count = write_material(Project.objects.get(slug=run.project), folder)
    progress.log(f"Gathering what {count} services say of themselves.")
    return _request(run, folder, out, is_partial=True)


def _database_request(run: Run, progress: RunProgress, folder: Path, out: Path) -> Request:
    """What the project's database said of itself, and nothing else."""
    write_project_file(Project.objects.get(slug=run.project), folder)
    progress.log("Gathering what the database says of itself.")
    return _request(run, folder, out)


def _request(run: Run, folder: Path, out: Path, **more: object) -> Request:
    return Request(
        folder=str(folder), out=str(out), slug=run.project, version=run.version, catalog=load_catalog(run.project),
        local_sources=settings.LOCAL_SOURCES, allowed_private=settings.ALLOWED_PRIVATE,
        git_hosts=settings.PRIVATE_GIT_HOSTS,
        url_timeout_s=settings.URL_TIMEOUT_S, time_s=settings.GATHER_LIMIT_S, memory_mib=settings.GATHER_MEMORY_MIB,
        files_mib=settings.GATHER_FILES_MIB, **more,  # type: ignore[arg-type]
    )  # fmt: skip


def gather_apart(request: Request, progress: RunProgress) -> None:
    """Gather in a child that knows neither the database nor a secret. Raises SourceRefused."""
    child = start_bound(_COMMAND, environment={"PATH": "/usr/local/bin:/usr/bin:/bin", "LANG": "C.UTF-8"})
    is_late = threading.Event()
    timer = threading.Timer(request.time_s, lambda: (is_late.set(), kill_group(child)))
    timer.daemon = True
    timer.start()
    last = Answer()
    try:
        last = _follow(child, request, progress)
    finally:
        timer.cancel()
        kill_group(child)  # Nothing that it started outlives it.
    if last.is_made:
        return
    Path(request.out).unlink(missing_ok=True)
    if is_late.is_set():
        raise SourceRefused(f"Gathering it took longer than {request.time_s:g} s and was ended")
    if not last.refused:
        raise SourceRefused(f"Gathering it took more than it may: its process ended with {child.returncode}")
    raise SourceRefused(last.refused)


def _follow(child: subprocess.Popen[bytes], request: Request, progress: RunProgress) -> Answer:
    """The child's last word; an empty one where it ended without."""
    assert child.stdin is not None and child.stdout is not None
    last = Answer()
    try:
        child.stdin.write(msgspec.json.encode(request))
        child.stdin.close()
    except BrokenPipeError:
        return last  # It ended at its start; its code tells.
    for line in child.stdout:
        last = msgspec.json.decode(line, type=Answer)
        if last.total:
            progress.count(last.done, last.total)
    child.wait()
    return last
