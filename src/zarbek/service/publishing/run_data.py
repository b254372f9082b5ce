"""What the API tells of a run."""

from __future__ import annotations

from datetime import datetime

import msgspec

from zarbek.service.catalog.visibility import hidden_projects
from zarbek.service.publishing.models import Run

#: What a run counted in other projects.
_ELSEWHERE = ("elsewhere", "examined")


class RunView(msgspec.Struct):
    """state: queued, running, done or failed. done of total within the stage. is_new: false where the same bytes were
    published before."""

    id: int
    project: str
    version: str
    state: str
    stage: str
    done: int
    total: int
    attempt: int
    is_preview: bool
    is_dry: bool
    actor: str
    problem: str
    counts: dict[str, int]
    created_at: datetime
    finished_at: datetime | None
    is_new: bool = True


class LogLineView(msgspec.Struct):
    """level: info, warning or error."""

    at: datetime
    level: str
    text: str


def run_view(run: Run, *, is_new: bool = True, for_all: bool = False) -> RunView:
    """A run as the API shows it. What it meant for projects that are kept from the asker is not even counted. for_all:
    whether it is shown to several askers together."""
    is_apart = for_all or bool(hidden_projects().slugs)
    counts = {n: c for n, c in run.counts.items() if n not in _ELSEWHERE} if is_apart else run.counts
    return RunView(
        run.pk, run.project, run.version, run.state, run.stage, run.done, run.total, run.attempt,
        run.is_preview, run.is_dry, run.actor, run.problem, counts, run.created_at, run.finished_at, is_new,
    )  # fmt: skip
