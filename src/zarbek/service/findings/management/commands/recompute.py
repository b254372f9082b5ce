"""Link and judge everything afresh, and tell where that differs from what is kept."""

from __future__ import annotations

from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from zarbek.service.findings.actions.judging import judge_release
from zarbek.service.findings.recomputation import list_differences
from zarbek.service.links.affected import list_judged


class Command(BaseCommand):
    """Computes links and findings anew and compares them with what is kept."""

    help = "Recompute all links and findings of judged releases and report every difference; there should be none."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Add --keep."""
        parser.add_argument("--keep", action="store_true", help="keep what was computed, as after an upgrade")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print each difference; ends with an error where there was one that is not kept."""
        count = 0
        for found in list_differences():
            count += 1
            self.stdout.write(f"{found.release}: {found.place}\n  kept      {found.kept}\n  computed  {found.computed}")
        releases = 0
        for release in list_judged():
            releases += 1
            if options["keep"]:
                judge_release(release, None, "recomputed")
        self.stdout.write(f"{releases} releases are judged; {count} differences.")
        if count and not options["keep"]:
            raise CommandError("The kept links differ from a full recomputation. --keep replaces them.")
