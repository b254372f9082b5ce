from django.apps import AppConfig


class PublishingConfig(AppConfig):
    name = "zarbek.service.publishing"

    def ready(self) -> None:
        from zarbek.service.publishing import stages

        stages.register()
