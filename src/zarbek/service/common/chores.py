"""Work that comes round by the clock. Applications register theirs when they are ready; whichever
worker is first takes each turn."""

from __future__ import annotations

import logging
from collections.abc import Callable
from dataclasses import dataclass

logger = logging.getLogger(__name__)


@dataclass(frozen=True, slots=True)
class Chore:
    """every_s: seconds between two turns. run: quick; what takes long goes into the queue."""

    name: str
    every_s: float
    run: Callable[[], None]


_chores: dict[str, Chore] = {}


def register_chore(name: str, every_s: float, run: Callable[[], None]) -> None:
    """Have something done now and then: about every so many seconds, by one process of all."""
    _chores[name] = Chore(name, every_s, run)


def list_chores() -> list[Chore]:
    """The chores that are registered, by name."""
    return sorted(_chores.values(), key=lambda chore: chore.name)
