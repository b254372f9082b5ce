"""Receive, store and go live: what publishing itself does of a run."""

from __future__ import annotations

from pathlib import Path

import msgspec
from django.conf import settings

from zarbek.core.errors import BundleRefused
from zarbek.core.linking.versions import check_version
from zarbek.core.material.bundle_file import BundleReader
from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.actions import check_label, ensure_project, go_live
from zarbek.service.catalog.models import Project, Release
from zarbek.service.common.packing import pack
from zarbek.service.content.actions import store_release
from zarbek.service.publishing.models import Run
from zarbek.service.publishing.pipeline import Publish, register_stage, version_while_stored


def register() -> None:
    register_stage(10, "receive", receive)
    register_stage(20, "store", store)
    register_stage(50, "live", live)


def bundle_path(name: str) -> Path:
    return Path(settings.MEDIA_ROOT) / name


def receive(publish: Publish) -> None:
    run = publish.run
    with BundleReader(bundle_path(run.bundle)) as bundle:
        manifest = bundle.manifest
    version = check_version(run.version or manifest.version)
    publish.version = check_label(run.project, version)
    project = ensure_project(run.project, manifest.title)
    stored_as = version_while_stored(run, version)
    manifest = msgspec.structs.replace(manifest, project=run.project, version=version)
    with publish.progress.fenced():
        publish.release = _receive_release(run, project, stored_as, manifest)
    publish.progress.log(
        f"Received {manifest.counts.get('symbols', 0)} symbols and {manifest.counts.get('pages', 0)} guides."
    )


def _receive_release(run: Run, project: Project, version: str, manifest: Manifest) -> Release:
    """The run's release: a new one, or what an earlier attempt of the same bytes left unfinished.

    Raises BundleRefused where another run has published the version, or is about to.
    """
    release, made = Release.objects.get_or_create(
        project=project, version=version,
        defaults={
            "bundle_digest": run.bundle_digest, "commit": manifest.commit,
            "is_preview": run.is_preview, "manifest": msgspec.json.encode(manifest),
        },
    )  # fmt: skip
    if made:
        return release
    others = Run.objects.filter(project=run.project, version=version, is_dry=False).exclude(pk=run.pk)
    is_same = release.bundle_digest == run.bundle_digest
    if others.filter(state="done").exists() or (release.is_live and not is_same):
        raise BundleRefused(f"{run.project} {version} is published already; a release never changes")
    if is_same:
        return release
    if others.filter(state__in=("queued", "running")).exists():
        raise BundleRefused(f"{run.project} {version} is being published with other content")
    release.delete()  # A run that was given up left it.
    return _receive_release(run, project, version, manifest)


def store(publish: Publish) -> None:
    release = publish.stored
    with BundleReader(bundle_path(publish.run.bundle)) as bundle:
        contents = store_release(release, bundle, progress=publish.progress.count)
        counts = dict(bundle.manifest.counts)
    release.contents, release.counts = pack(contents), counts
    with publish.progress.fenced():
        release.save(update_fields=["contents", "counts"])


def live(publish: Publish) -> None:
    release = publish.stored
    if publish.run.is_dry:
        return
    manifest = msgspec.json.decode(release.manifest, type=Manifest)
    with publish.progress.fenced():
        namespace_changes = go_live(release, publish.version, manifest)
        publish.run.namespace_changes = sorted(namespace_changes.union(publish.run.namespace_changes))
        publish.run.save(update_fields=["namespace_changes"])
    publish.progress.log(f"{publish.run.project} {publish.version} is live.")
