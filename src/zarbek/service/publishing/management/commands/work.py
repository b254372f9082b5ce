"""A worker: starts the processes that take jobs from the queues, beats for them while they live,
ends those that take too long, and takes up what died."""

from __future__ import annotations

import signal
import sys
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from zarbek.service.publishing.process_supervisor import ProcessSupervisor

#: Publishes; what is quick and comes round by the clock; what waits for the world outside.
QUEUES = ("default", "chores", "outside")


class Command(BaseCommand):
    """Watches over the processes that take jobs."""

    help = "Run a worker until it is told to stop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Add --queue."""
        parser.add_argument("--queue", action="append", choices=QUEUES, help="only this one; all if left out")

    def handle(self, *args: Any, **options: Any) -> None:
        """Watch until told to stop, then end them."""
        keeper = ProcessSupervisor(options["queue"] or QUEUES)
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, lambda *_: sys.exit(0))
        try:
            keeper.run()
        finally:
            keeper.stop()
