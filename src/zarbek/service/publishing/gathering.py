"""Runs that the portal gathers itself, from a git repository."""

from __future__ import annotations

import tempfile
from pathlib import Path

from django.conf import settings

from zarbek.core.gathering.gather import GatherOptions, gather
from zarbek.core.material.bundlefile import digest_file
from zarbek.core.material.gitrepo import check_address, export_commit
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.progress import RunProgress


def gather_origin(run: Run, progress: RunProgress) -> None:
    """Fetch the run's commit and gather it; the run then has a bundle like an uploaded one.

    Raises GitRefused for an address, ref or transport that is not allowed.
    """
    address, ref = run.origin["address"], run.origin["ref"]
    check_address(address, settings.LOCAL_SOURCES)
    name = f"bundles/run-{run.pk}.bundle"
    out = Path(settings.MEDIA_ROOT) / name
    out.parent.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory(prefix="zarbek-") as folder:
        # Where the server keeps a local repository is nobody's business.
        progress.log(f"Fetching {ref} of {Path(address).name if address.startswith('/') else address}.")
        commit = export_commit(address, ref, Path(folder))
        options = GatherOptions(slug=run.project, version=run.version, commit=commit, use_cache=False)
        source = Path(folder, run.origin.get("folder") or ".")
        gather(source, out, options, progress=lambda _stage, done, total: progress.count(done, total))
    run.bundle, run.bundle_digest = name, digest_file(out)
    run.save(update_fields=["bundle", "bundle_digest"])
