"""A worker process: takes runs from the queue, beats while it works, takes up what died."""

from __future__ import annotations

import logging
import threading
import time
import uuid
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand
from django.db import OperationalError, close_old_connections, connection
from django_tasks_db.compat import task_finished, task_started
from django_tasks_db.management.commands.db_worker import Worker

from zarbek.service.publishing.actions import beat, requeue_abandoned
from zarbek.service.publishing.tasks import execute_run
from zarbek.service.publishing.turns import run_due_chores

logger = logging.getLogger(__name__)
BEAT_S = 5.0


class Heart(threading.Thread):
    """Beats for the run at hand and sweeps for abandoned ones."""

    def __init__(self) -> None:
        super().__init__(daemon=True, name="heart")
        self.runs: list[int] = []
        task_started.connect(self._begin)
        task_finished.connect(self._end)

    def _begin(self, task_result: Any, **_: Any) -> None:
        is_run = task_result.task.module_path == execute_run.module_path
        self.runs = list(task_result.args[:1]) if is_run else []

    def _end(self, **_: Any) -> None:
        self.runs = []

    def run(self) -> None:
        while True:
            try:
                close_old_connections()
                beat(self.runs)
                requeue_abandoned()
                run_due_chores()
            except OperationalError as error:
                logger.warning("the database does not answer: %s", error)
                connection.close()
            time.sleep(BEAT_S)


class Command(BaseCommand):
    help = "Run a worker process until it is told to stop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--queue", default="default", help="default for publishes, chores for what may take long")

    def handle(self, *args: Any, **options: Any) -> None:
        Heart().start()
        while True:
            worker = Worker(
                queue_names=[options["queue"]], interval=0.2, batch=False, backend_name="default",
                startup_delay=False, max_tasks=None, worker_id=f"worker-{uuid.uuid4().hex[:12]}",
                excluded_queue_names=[],
            )  # fmt: skip
            worker.configure_signals()
            try:
                worker.run()
                return
            except OperationalError as error:
                logger.warning("the database went away, trying again: %s", error)
                connection.close()
                time.sleep(2)
