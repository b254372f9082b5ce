"""Every release of the listed projects into one portal, as its makers published them."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import msgspec

from bench.portal import Service
from bench.precision.fetching import Project
from zarbek.core.gathering.gather import GatherOptions, gather


def publish_all(service: Service, projects: Sequence[Project]) -> None:
    """Round by round, so that the newest of one meets the newest of the others. Raises RuntimeError for a
    run that fails."""
    with tempfile.TemporaryDirectory() as folder:
        for project, version in rounds_of(projects):
            bundle = Path(folder, f"{project.slug}-{version}.bundle")
            gather(project.source(version), bundle, GatherOptions(slug=project.slug, version=version))
            service.publish(bundle)
            bundle.unlink()
    failed = [f"{r.project} {r.version}: {r.problem}" for r in service.client.runs() if r.state != "done"]
    if failed:
        raise RuntimeError("; ".join(failed))


def rounds_of(projects: Sequence[Project]) -> Iterator[tuple[Project, str]]:
    """Projects with a version each, so that the last versions of all come last."""
    most = max(len(p.versions) for p in projects)
    for number in range(most):
        for project in projects:
            at = number - (most - len(project.versions))
            if at >= 0:
                yield project, project.versions[at]


def standing(service: Service) -> list[dict[str, Any]]:
    """All findings that stand at the end, notes too, each with its project and release."""
    return [
        {"project": f.project, "version": f.version, **msgspec.to_builtins(f.finding)} for f in service.client.findings()
    ]  # fmt: skip
