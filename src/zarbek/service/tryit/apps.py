"""Requests that readers send from a page."""

from django.apps import AppConfig


class TryitConfig(AppConfig):
    """Has no models."""

    name = "zarbek.service.tryit"
