"""The pages that are read."""

from django.apps import AppConfig


class ReferenceConfig(AppConfig):
    """Has a stage of publishing, and no models."""

    name = "zarbek.service.reference"

    def ready(self) -> None:
        """Have a publish make ready what readers ask for."""
        from zarbek.service.reference.stages import register

        register()
