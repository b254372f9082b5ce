"""What becomes of findings when a release's standing changes without a publish."""

from __future__ import annotations

from collections.abc import Collection

from zarbek.service.catalog.models import Release
from zarbek.service.findings.actions.judging import close_line, judge_again, judge_others, keep_linked
from zarbek.service.links.affected import affected_by_namespaces
from zarbek.service.publishing.actions.cache_epoch import renew_pages


def on_judging_changed(release: Release, **_: object) -> None:
    """What is judged again is linked at once; a line that is no longer judged has no findings that stand."""
    if release.is_judged:
        _judge(release, f"{release.project.slug} {release.version}")
    else:
        close_line(release)
    renew_pages()


def on_hold_overridden(release: Release, namespace_changes: Collection[str], **_: object) -> None:
    """A release that is latest now is judged, and so is whoever it touches."""
    if release.is_judged:
        _judge(release, f"{release.project.slug} {release.version}")
    judge_others(release, namespace_changes, 0, _unwatched)
    renew_pages()


def on_outside_changed(names: Collection[str], **_: object) -> None:
    """Texts that name something in these namespaces are linked again."""
    for release in Release.objects.filter(pk__in=affected_by_namespaces(names)).select_related("project"):
        _judge(release, "outside addresses")
    renew_pages()


def _judge(release: Release, cause: str) -> None:
    keep_linked(release, judge_again(release, None, _unwatched), cause, 0)


def _unwatched() -> None:
    """Progress of what no run does."""
