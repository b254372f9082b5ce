"""Take jobs from one queue, one after the other. Started by ``work``, which watches it."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand
from django_tasks_db.management.commands.db_worker import Worker

from zarbek.service.common.collector import collect_rarely
from zarbek.service.common.watched_process import until_told_to_stop


class Command(BaseCommand):
    """Takes jobs from one queue, in a process of its own."""

    help = "Take jobs from a queue until told to stop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Add --queue."""
        parser.add_argument("--queue", required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        """Take jobs until told to stop."""
        worker = Worker(
            queue_names=[options["queue"]], interval=0.2, batch=False, backend_name="default", startup_delay=False,
            max_tasks=None, worker_id=settings.WORKER_ID, excluded_queue_names=[],
        )  # fmt: skip
        collect_rarely()
        with until_told_to_stop():
            worker.configure_signals()  # It ends the job that it is at first.
            worker.run()
