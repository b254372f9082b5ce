"""A worker: starts the processes that take jobs from the queues and the one that minds the clock, beats for
them while they live, ends those that take too long, and takes up what died."""

from __future__ import annotations

import signal
import sys
from argparse import ArgumentParser
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from zarbek.service.publishing.process_supervisor import CLOCK, SEARCH, ProcessSupervisor

#: Publishes; what is quick and comes round by the clock; what waits for the world outside.
QUEUES = ("default", "chores", "outside")
#: Not a queue: the search index of a machine that has only web servers besides.
CHOICES = (*QUEUES, SEARCH)


class Command(BaseCommand):
    """Watches over the processes that work."""

    help = "Run a worker until it is told to stop."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Add --queue."""
        parser.add_argument("--queue", action="append", choices=CHOICES, help="only this one; all if left out")

    def handle(self, *args: Any, **options: Any) -> None:
        """Watch until told to stop, then end them."""
        queues = options["queue"] or CHOICES
        publishers = ["default"] * (settings.PUBLISHERS - 1 if "default" in queues else 0)
        keeper = ProcessSupervisor([*queues, *publishers, *([CLOCK] if "chores" in queues else [])])
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, lambda *_: sys.exit(0))
        try:
            keeper.run()
        finally:
            keeper.stop()
