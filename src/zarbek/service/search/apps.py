"""What searching adds to the portal."""

from django.apps import AppConfig


class SearchConfig(AppConfig):
    """Has releases found."""

    name = "zarbek.service.search"

    def ready(self) -> None:
        """Register its stages."""
        from zarbek.service.search import stages

        stages.register()
