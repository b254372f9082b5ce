"""What links add to the portal."""

from django.apps import AppConfig


class LinksConfig(AppConfig):
    """Links a release, and compares it with the one before."""

    name = "zarbek.service.links"

    def ready(self) -> None:
        """Register its stages."""
        from zarbek.service.links import stages

        stages.register()
