"""What searching adds to the portal."""

from django.apps import AppConfig


class SearchConfig(AppConfig):
    """Indexes a release, and forgets those that are gone."""

    name = "zarbek.service.search"

    def ready(self) -> None:
        """Register its stages, chore and what it reacts to."""
        from zarbek.service.catalog.signals import gone
        from zarbek.service.search import stages
        from zarbek.service.search.actions import forget_releases

        stages.register()
        gone.connect(forget_releases)
