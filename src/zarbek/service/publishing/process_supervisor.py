"""Keeps the processes that do the work: some a queue and one for the clock, each watched from outside, so that a
hang, a crash or a pattern without end ends one job and nothing else. Watching is all that it does itself."""

from __future__ import annotations

import contextlib
import logging
import os
import subprocess
import sys
import time
import uuid
from collections.abc import Iterable
from dataclasses import dataclass, field
from datetime import timedelta

from django.conf import settings
from django.db import DatabaseError, close_old_connections, connection
from django.utils import timezone
from django_tasks_db.models import DBTaskResult

from zarbek.core.material.processes import begin_in_background, kill_group
from zarbek.service.common.workplaces import sweep_workplaces
from zarbek.service.publishing.actions.heartbeat import beat, list_overdue, requeue_abandoned, requeue_of_worker
from zarbek.service.publishing.actions.runs import give_up
from zarbek.service.publishing.actions.schedule import is_at_overdue_chore

logger = logging.getLogger(__name__)
BEAT_S = 2.0
#: Before one that died is started again: a little at first, longer each time.
FIRST_PAUSE_S, LONGEST_PAUSE_S = 0.5, 30.0
#: One that lived so long did not die of its start.
LIVED_S = 60.0
STOP_WITHIN_S = 10.0


#: In the place of a queue: the process that does what comes round by the clock.
CLOCK = "clock"
#: The same for the one that keeps this machine's search index in step.
SEARCH = "search"
_COMMANDS = {CLOCK: ["run_chores"], SEARCH: ["follow_search"]}


@dataclass(slots=True)
class WorkProcess:
    """A process of one queue, of the clock or of search. id: under which it claims jobs; a new one for each process."""

    queue: str
    id: str = ""
    process: subprocess.Popen[bytes] | None = None
    started_at: float = 0.0
    deaths: int = 0
    due_at: float = 0.0
    lost: list[str] = field(default_factory=list)

    def start(self) -> None:
        """Start the process; it gets a new id."""
        self.id = f"{self.queue}-{uuid.uuid4().hex[:12]}"
        self.started_at = time.monotonic()
        command = _COMMANDS.get(self.queue) or ["take_jobs", "--queue", self.queue]
        self.process = subprocess.Popen(
            [sys.executable, "-m", "zarbek.service.manage", *command],
            env={**os.environ, "ZARBEK_WORKER_ID": self.id}, stdin=subprocess.DEVNULL, start_new_session=True,
            preexec_fn=begin_in_background,
        )  # fmt: skip

    def look(self) -> None:
        """Start it where it is not there and its pause is over; note what it was at when it died."""
        if self.process is not None and self.process.poll() is not None:
            code = self.process.returncode
            logger.warning("a process of %s ended with %s", self.queue, code)
            kill_group(self.process)  # What it had started goes with it.
            self.lost.append(self.id)
            self.deaths = 0 if time.monotonic() - self.started_at > LIVED_S else self.deaths + 1
            pause = min(FIRST_PAUSE_S * 2 ** max(self.deaths - 1, 0), LONGEST_PAUSE_S)
            self.due_at, self.process = time.monotonic() + pause, None
        if self.process is None and time.monotonic() >= self.due_at:
            self.start()

    def end(self) -> None:
        """End the process with all that it started."""
        if self.process is not None:
            kill_group(self.process)


class ProcessSupervisor:
    """Keeps processes alive, and tells that they and itself live.

    queues: the queue of each of them, CLOCK or SEARCH; one that has several processes stands there as often.
    """

    def __init__(self, queues: Iterable[str]) -> None:
        self.work_processes = [WorkProcess(queue) for queue in queues]
        self._beaten_at = 0.0

    def run(self) -> None:
        """Watch over them for ever."""
        while True:
            for work_process in self.work_processes:
                work_process.look()
            if time.monotonic() - self._beaten_at >= BEAT_S:
                self._beaten_at = time.monotonic()
                self._mind()
            time.sleep(0.2)

    def _mind(self) -> None:
        """What the database must know of the processes, and what it knows of others that died."""
        try:
            close_old_connections()
            for work_process in self.work_processes:
                self._mind_process(work_process)
            requeue_abandoned()
            end_lost_jobs()
            sweep_workplaces()
        except DatabaseError as error:  # Of whatever kind: who watches must go on watching.
            logger.warning("the database does not answer as it should: %s", error)
            connection.close()

    def _mind_process(self, work_process: WorkProcess) -> None:
        for lost in list(work_process.lost):
            requeue_of_worker(lost)
            fail_jobs_of(lost, "Its process ended.")
            work_process.lost.remove(lost)
        if work_process.process is None:
            return
        overdue = list_overdue(work_process.id)
        is_stuck = bool(overdue) or has_overdue_job(work_process.id) or is_at_overdue_chore(work_process.id)
        if is_stuck:
            work_process.end()
            for run, reason in overdue:
                give_up(run, reason)
        elif work_process.process.poll() is None:
            beat(work_process.id)

    def stop(self) -> None:
        """Let each end what it is at for a little while, then end it."""
        alive = [h.process for h in self.work_processes if h.process is not None and h.process.poll() is None]
        for process in alive:
            process.terminate()
        until = time.monotonic() + STOP_WITHIN_S
        for process in alive:
            with contextlib.suppress(subprocess.TimeoutExpired):
                process.wait(max(0.0, until - time.monotonic()))
            kill_group(process)


def has_overdue_job(worker: str) -> bool:
    """Whether a worker is at a job of no run for longer than one may take."""
    limit = timezone.now() - timedelta(seconds=settings.JOB_LIMIT_S)
    jobs = DBTaskResult.objects.running().filter(started_at__lt=limit).exclude(queue_name="default")
    return any(worker in (job.worker_ids or ()) for job in jobs)


def fail_jobs_of(worker: str, reason: str) -> None:
    """End the jobs that a process had when it died."""
    for job in DBTaskResult.objects.running():
        if worker in (job.worker_ids or ()):
            job.set_failed(RuntimeError(reason))


def end_lost_jobs() -> None:
    """Jobs of workers that are gone without a word: nobody will ever end them."""
    limit = timezone.now() - timedelta(seconds=settings.JOB_LIMIT_S * 2)
    for job in DBTaskResult.objects.running().filter(started_at__lt=limit).exclude(queue_name="default"):
        job.set_failed(RuntimeError("Its worker is gone."))
