"""Following a run to its end."""

from __future__ import annotations

from rich.progress import Progress, TaskID

from zarbek.cli.progress import progress_bar
from zarbek.client import LogLine, Portal, PortalError, Run


class PublishFailed(PortalError):
    """A run ended without publishing."""

    def __init__(self, run: Run) -> None:
        super().__init__(run.problem)
        self.run = run

    def __str__(self) -> str:
        return f"run {self.run.id} failed at {self.run.stage}: {self.run.problem}"


def follow(portal: Portal, started: Run) -> Run:
    """Wait for a run to end, with a bar on a terminal."""
    last = started
    with progress_bar() as bar:
        task = bar.add_task(started.state, total=None)
        for event in portal.watch(started.id):
            if isinstance(event, LogLine):
                if not bar.disable:
                    bar.console.print(event.text)
            else:
                last = event
                _advance(bar, task, event)
    return last if last.is_over else portal.run(started.id)


def _advance(bar: Progress, task: TaskID, run: Run) -> None:
    bar.update(task, description=run.stage or run.state, completed=run.done, total=run.total or None)
