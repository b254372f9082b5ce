"""Receive, store and go live: what publishing itself does of a run."""

from __future__ import annotations

import msgspec

from zarbek.core.linking.versions import check_version
from zarbek.core.model.bundle import Manifest
from zarbek.service.catalog.actions.portal_changes import note_change
from zarbek.service.catalog.actions.projects import check_label, ensure_project, go_live
from zarbek.service.common.packing import pack
from zarbek.service.content.actions import store_release
from zarbek.service.content.queries import get_page_refs
from zarbek.service.publishing.actions.run_state import (
    add_namespace_changes,
    keep_contents,
    receive_release,
    version_while_stored,
)
from zarbek.service.publishing.bundles import open_bundle
from zarbek.service.publishing.pipeline import (
    Behind,
    Publish,
    list_live_steps,
    list_preparations,
    register_stage,
)


def register() -> None:
    """Register the stages that receive a bundle, store it and make it live."""
    register_stage(10, "receive", receive)
    register_stage(20, "store", store)
    register_stage(50, "live", live)


def receive(publish: Publish) -> None:
    """Read what a bundle says it is, and make its project and release."""
    run = publish.run
    with open_bundle(run.bundle) as bundle:
        manifest = bundle.manifest
    version = check_version(run.version or manifest.version)
    publish.version = check_label(run.project, version)
    project = ensure_project(run.project, manifest.title)
    stored_as = version_while_stored(run, version)
    manifest = msgspec.structs.replace(manifest, project=run.project, version=version)
    with publish.progress.fenced():
        publish.release = receive_release(run, project, stored_as, manifest)
    publish.progress.log(
        f"Received {manifest.counts.get('symbols', 0)} symbols and {manifest.counts.get('pages', 0)} guides."
    )


def store(publish: Publish) -> None:
    """Store what the bundle holds, each content once."""
    release = publish.stored
    with open_bundle(publish.run.bundle) as bundle:
        contents = store_release(release, bundle, progress=publish.progress.count)
        supplements = sum(bool(ref.entry.supplements) for ref in get_page_refs(contents.pages))
        counts = {**bundle.manifest.counts, "supplements": supplements}
        counts["pages"] = counts.get("pages", 0) - supplements
    packed = pack(contents)
    with publish.progress.fenced():
        keep_contents(release, packed, counts)


def live(publish: Publish) -> None:
    """Show the release to readers, and move the aliases that follow it, with links that are true at that moment."""
    if publish.run.is_dry:
        return
    while True:
        for prepare in list_preparations():
            prepare(publish)
        try:
            _go_live(publish)
        except Behind:
            publish.progress.log("Something that it links to has just changed: linking what that touches again.")
            continue
        break
    publish.progress.log(f"{publish.run.project} {publish.version} is live.")


def _go_live(publish: Publish) -> None:
    release, run = publish.stored, publish.run
    manifest = msgspec.json.decode(release.manifest, type=Manifest)
    with publish.progress.fenced():
        add_namespace_changes(run, go_live(release, publish.version, manifest))
        for step in list_live_steps():
            step(publish)
        publish.change = note_change(
            f"{run.project} {publish.version}", project=run.project, release=release.pk,
            namespaces=publish.namespace_changes, run=run.pk,
        )  # fmt: skip
