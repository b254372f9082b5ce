"""Runs that the portal gathers itself, from a git repository."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import httpx
from django.conf import settings

from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundlefile import digest_file
from zarbek.core.material.gitrepo import check_address, export_commit
from zarbek.core.sources.interfaces.remote import MAX_BYTES, Fetch, FetchFailed
from zarbek.service.catalog.models import Project
from zarbek.service.common.outward import OutwardTransport, read_bounded
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.progress import RunProgress
from zarbek.service.publishing.services import write_material


def gather_origin(run: Run, progress: RunProgress) -> None:
    """Fetch the run's commit and gather it; the run then has a bundle like an uploaded one.

    Raises GitRefused for an address, ref or transport that is not allowed.
    """
    if run.origin.get("services"):
        _gather_services(run, progress)
        return
    address, ref = run.origin["address"], run.origin["ref"]
    check_address(address, settings.LOCAL_SOURCES)
    out = _place_of_bundle(run)
    with tempfile.TemporaryDirectory(prefix="zarbek-") as folder:
        # Where the server keeps a local repository is nobody's business.
        progress.log(f"Fetching {ref} of {Path(address).name if address.startswith('/') else address}.")
        commit = export_commit(address, ref, Path(folder))
        options = GatherOptions(slug=run.project, version=run.version, commit=commit, use_cache=False)
        source = Path(folder, run.origin.get("folder") or ".")
        with outward_fetch() as fetch:
            gather(source, out, options, progress=lambda _s, done, total: progress.count(done, total), fetch=fetch)
    _take(run, out)


def _gather_services(run: Run, progress: RunProgress) -> None:
    """Put what the project's services said of themselves together."""
    project = Project.objects.get(slug=run.project)
    out = _place_of_bundle(run)
    with tempfile.TemporaryDirectory(prefix="zarbek-") as folder:
        count = write_material(project, Path(folder))
        progress.log(f"Gathering what {count} services say of themselves.")
        options = GatherOptions(slug=run.project, version=run.version, use_cache=False, is_partial=True)
        gather(Path(folder), out, options, progress=lambda _stage, done, total: progress.count(done, total))
    _take(run, out)


def _place_of_bundle(run: Run) -> Path:
    out = Path(settings.MEDIA_ROOT, "bundles", f"run-{run.pk}.bundle")
    out.parent.mkdir(parents=True, exist_ok=True)
    return out


def _take(run: Run, out: Path) -> None:
    run.bundle, run.bundle_digest = f"bundles/{out.name}", digest_file(out)
    run.save(update_fields=["bundle", "bundle_digest"])


@contextmanager
def outward_fetch() -> Iterator[Fetch]:
    """Fetches schemas from outside, never from private networks that the settings do not allow."""
    with httpx.Client(transport=OutwardTransport(settings.ALLOWED_PRIVATE), timeout=settings.URL_TIMEOUT_S) as http:

        def fetch(address: str) -> bytes:
            try:
                with http.stream("GET", address) as response:
                    if response.status_code != 200:
                        raise FetchFailed(f"it answers {response.status_code}")
                    return read_bounded(response, MAX_BYTES)
            except (httpx.HTTPError, httpx.InvalidURL) as error:
                raise FetchFailed(str(error)) from error

        yield fetch
