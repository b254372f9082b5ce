"""What a run tells while it runs: stage, counts and log lines, in the database for all to see."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager

from django.db import transaction
from django.utils import timezone

from zarbek.service.publishing.models import LogLine, Run

_GRAIN_S = 0.2


class RunTakenOver(Exception):
    """Another worker has this run now; this attempt must write nothing more."""


class RunProgress:
    """One attempt at a run. Whatever it writes, it writes under its fence."""

    def __init__(self, run: Run) -> None:
        self._run_id, self._attempt = run.pk, run.attempt
        self._last = 0.0

    def enter(self, stage: str) -> None:
        """Begin a stage."""
        self._write(stage=stage, done=0, total=0, stage_at=timezone.now())

    def count(self, done: int, total: int) -> None:
        """done of total; written at most five times a second."""
        now = time.monotonic()
        if done >= total or now - self._last >= _GRAIN_S:
            self._last = now
            self._write(done=done, total=total)

    def log(self, text: str, level: str = "info") -> None:
        """Tell something to who follows the run; level: info, warning or error."""
        with self.fenced():
            LogLine.objects.create(run_id=self._run_id, level=level, text=text)

    def _write(self, **values: object) -> None:
        now = timezone.now()
        mine = Run.objects.filter(pk=self._run_id, attempt=self._attempt, state="running")
        if not mine.update(heartbeat_at=now, progress_at=now, **values):
            raise RunTakenOver(f"run {self._run_id}, attempt {self._attempt}")

    def check(self) -> None:
        """Raises RunTakenOver if another attempt runs."""
        self._write()

    @contextmanager
    def fenced(self) -> Iterator[None]:
        """A short transaction in which no other attempt can take the run over.

        Raises RunTakenOver, before anything of it is done, if one has.
        """
        with transaction.atomic():
            mine = Run.objects.select_for_update().filter(pk=self._run_id, attempt=self._attempt, state="running")
            if mine.values_list("pk", flat=True).first() is None:
                raise RunTakenOver(f"run {self._run_id}, attempt {self._attempt}")
            yield
