from django.apps import AppConfig


class ConsoleConfig(AppConfig):
    name = "zarbek.service.console"
