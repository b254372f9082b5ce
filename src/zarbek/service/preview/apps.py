"""What a preview adds to the portal."""

from django.apps import AppConfig


class PreviewConfig(AppConfig):
    """Shows a working tree."""

    name = "zarbek.service.preview"
