from django.apps import AppConfig


class NoticesConfig(AppConfig):
    name = "zarbek.service.notices"

    def ready(self) -> None:
        from zarbek.service.notices import stages

        stages.register()
