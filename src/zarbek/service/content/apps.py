from django.apps import AppConfig


class ContentConfig(AppConfig):
    name = "zarbek.service.content"
