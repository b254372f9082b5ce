from django.apps import AppConfig


class LinksConfig(AppConfig):
    name = "zarbek.service.links"

    def ready(self) -> None:
        from zarbek.service.links import stages

        stages.register()
