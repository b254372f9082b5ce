"""What written supplements are called."""

from django.apps import AppConfig


class SupplementsConfig(AppConfig):
    """Texts for elements that people write in the console."""

    name = "zarbek.service.supplements"

    def ready(self) -> None:
        """Have what is written follow the releases of its project."""
        from zarbek.service.supplements.stages import register

        register()
