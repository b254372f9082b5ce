"""How far something is, on a terminal only. Apart from all other writing: most verbs have no use for it."""

from __future__ import annotations

import sys
from contextlib import AbstractContextManager

from rich.console import Console
from rich.progress import BarColumn, MofNCompleteColumn, Progress, TextColumn


def progress_bar() -> AbstractContextManager[Progress]:
    """A bar on standard error that leaves nothing behind; nothing at all in pipes."""
    console = Console(stderr=True, highlight=False, markup=False, emoji=False)
    return Progress(
        TextColumn("{task.description}", markup=False), BarColumn(), MofNCompleteColumn(), console=console,
        transient=True, disable=not sys.stderr.isatty(),
    )  # fmt: skip
