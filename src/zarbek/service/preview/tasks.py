"""Jobs of a preview: noted, and done by nobody but who publishes."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from uuid import uuid4

from django_tasks.backends.dummy import DummyBackend
from django_tasks.base import Task, TaskResult


class Noted(DummyBackend):  # type: ignore[misc]
    """Gives jobs ids of the kind that the portal's queue gives, and forgets them."""

    def enqueue(self, task: Task, args: Any, kwargs: Any) -> TaskResult:  # type: ignore[type-arg]
        """Nothing waits for it."""
        found = super().enqueue(task, args, kwargs)
        self.results.clear()
        return replace(found, id=str(uuid4()))
