"""The link stage of a run."""

from __future__ import annotations

from zarbek.service.links.actions import link_release
from zarbek.service.publishing.pipeline import Publish, register_stage


def register() -> None:
    register_stage(30, "link", link)


def link(publish: Publish) -> None:
    """Link before anyone can see the release."""
    linked = link_release(publish.stored, progress=publish.progress.count)
    counted = linked.counted()
    publish.counts.update(total=counted.total, held=counted.held, dangling=counted.dangling,
                          stale=counted.stale, outside=counted.outside)  # fmt: skip
    publish.findings = linked.findings
    publish.progress.log(f"Linked {counted.total} references: {counted.dangling} dangle, {counted.stale} are stale.")
