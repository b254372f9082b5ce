"""Verify the settings, as Django does, and everything that is kept against itself."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import CommandError
from django.core.management.commands.check import Command as CheckSettings

from zarbek.service.web.integrity import list_faults


class Command(CheckSettings):
    """Checks settings, and what is kept."""

    help = (
        "Check the settings, and all that is kept: what is named is there, digests fit, links are as they would be now."
    )

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Add --project and --settings-only."""
        super().add_arguments(parser)
        parser.add_argument("--project", action="append", help="only what belongs to this one; all if left out")
        parser.add_argument("--settings-only", action="store_true", help="look at no data")

    def handle(self, *app_labels: Any, **options: Any) -> None:
        """Print what differs; ends with an error where anything does."""
        super().handle(*app_labels, **options)
        if options["settings_only"]:
            return
        count = 0
        for fault in list_faults(options["project"]):
            count += 1
            self.stdout.write(fault)
        if count:
            raise CommandError(f"{count} {'thing differs' if count == 1 else 'things differ'}.")
        self.stdout.write("Everything that is kept fits together.")
