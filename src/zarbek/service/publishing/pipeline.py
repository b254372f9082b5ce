"""The stages of a run, in order. Higher applications add theirs when they are ready."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import Release
from zarbek.service.publishing.actions.progress import RunProgress
from zarbek.service.publishing.models import Run


@dataclass(slots=True)
class Publish:
    """What stages share. counts goes into the run and, as references, into the release."""

    run: Run
    progress: RunProgress
    release: Release | None = None
    #: The version that the release gets when it goes live.
    version: str = ""
    counts: dict[str, int] = field(default_factory=dict)
    #: Of the release itself, from its links.
    findings: list[Finding] = field(default_factory=list)
    #: Job that another process does meanwhile, by the stage that waits for it.
    jobs: dict[str, str] = field(default_factory=dict)

    @property
    def namespace_changes(self) -> list[str]:
        """Names that the project provides since this run, or no longer does."""
        return list(self.run.namespace_changes)

    @property
    def stored(self) -> Release:
        """The release that is published. Raises RuntimeError before it has been received."""
        if self.release is None:
            raise RuntimeError("the release has not been received yet")
        return self.release


Stage = Callable[[Publish], None]
_stages: list[tuple[int, str, Stage]] = []


def register_stage(order: int, name: str, stage: Stage) -> None:
    """Add a stage; orders: receive 5 and 10, store 20, link 30, index 40, policy 45, live 50, report 60.

    name: as it is told to people; several stages in a row may have one.
    """
    others = [s for s in _stages if s[:2] != (order, name)]
    _stages[:] = sorted([*others, (order, name, stage)], key=lambda s: s[0])


def list_stages() -> list[tuple[str, Stage]]:
    """The stages with their names, in the order in which they run."""
    return [(name, stage) for _, name, stage in _stages]
