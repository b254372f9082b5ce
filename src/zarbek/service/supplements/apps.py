"""What written supplements are called."""

from django.apps import AppConfig


class SupplementsConfig(AppConfig):
    """Texts for elements that people write in the console."""

    name = "zarbek.service.supplements"
