"""The stages of a run, in order. Higher applications add theirs when they are ready."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

from zarbek.core.findings.report import Compared
from zarbek.core.model.finding import Finding
from zarbek.service.catalog.models import PortalChange, Release
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
    #: Of the release itself, from its links, and what became of all of its findings.
    findings: list[Finding] = field(default_factory=list)
    #: How often the release's links had been kept when they gave these.
    link_revision: int = 0
    compared: Compared | None = None
    #: Projects whose pages say something else now, besides its own.
    renewed: set[str] = field(default_factory=set)
    #: What going live was noted as.
    change: PortalChange | None = None

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


class Behind(Exception):
    """What the release's links rest on has changed since they were made."""


Stage = Callable[[Publish], None]
_stages: list[tuple[int, str, Stage]] = []
_preparations: list[Stage] = []
_live_steps: list[tuple[int, Stage]] = []


def register_stage(order: int, name: str, stage: Stage) -> None:
    """Add a stage; orders: receive 5 and 10, store 20, link 30, index 40, policy 45, live 50, report 60.

    name: as it is told to people; several stages in a row may have one.
    """
    others = [s for s in _stages if s[:2] != (order, name)]
    _stages[:] = sorted([*others, (order, name, stage)], key=lambda s: s[0])


def list_stages() -> list[tuple[str, Stage]]:
    """The stages with their names, in the order in which they run."""
    return [(name, stage) for _, name, stage in _stages]


def register_preparation(prepare: Stage) -> None:
    """Have something done before a release goes live, and each time before that is tried again."""
    _preparations[:] = [*(p for p in _preparations if p != prepare), prepare]


def register_live_step(order: int, step: Stage) -> None:
    """Have something done in the transaction in which a release goes live, which takes all of it back where step
    raises Behind: then it is prepared and tried again."""
    others = [s for s in _live_steps if s[0] != order]
    _live_steps[:] = sorted([*others, (order, step)], key=lambda s: s[0])


def list_preparations() -> list[Stage]:
    """What is done before a release goes live."""
    return list(_preparations)


def list_live_steps() -> list[Stage]:
    """What is done in the transaction in which it does, in order."""
    return [step for _, step in _live_steps]
