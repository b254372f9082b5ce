"""What releases hold."""

from django.apps import AppConfig


class ContentConfig(AppConfig):
    """Has models only."""

    name = "zarbek.service.content"
