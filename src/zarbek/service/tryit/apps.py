from django.apps import AppConfig


class TryitConfig(AppConfig):
    name = "zarbek.service.tryit"
