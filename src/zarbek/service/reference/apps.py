"""The pages that are read."""

from django.apps import AppConfig


class ReferenceConfig(AppConfig):
    """Has models only."""

    name = "zarbek.service.reference"
