"""Build the search index from the database."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand

from zarbek.service.catalog.models import Release
from zarbek.service.search.actions import index_release


class Command(BaseCommand):
    help = "Index every published release anew."

    def handle(self, *args: Any, **options: Any) -> None:
        for release in Release.objects.filter(is_live=True).select_related("project"):
            count = index_release(release, progress=lambda _done, _total: None)
            self.stdout.write(f"{release.project.slug} {release.version}: {count} documents")
