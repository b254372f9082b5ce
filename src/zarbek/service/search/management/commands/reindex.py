"""Build the search index from the database."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from zarbek.service.search.actions import rebuild_index


class Command(BaseCommand):
    """Makes the search index anew."""

    help = "Index every published release anew, whatever state the index is in."

    def handle(self, *args: Any, **options: Any) -> None:
        """Make it, and print how many documents it has."""
        self.stdout.write(f"{rebuild_index()} documents")
