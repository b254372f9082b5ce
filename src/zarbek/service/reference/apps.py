from django.apps import AppConfig


class ReferenceConfig(AppConfig):
    name = "zarbek.service.reference"
