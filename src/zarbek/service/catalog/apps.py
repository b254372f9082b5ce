from django.apps import AppConfig


class CatalogConfig(AppConfig):
    name = "zarbek.service.catalog"
