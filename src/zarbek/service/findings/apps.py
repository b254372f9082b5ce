from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "zarbek.service.findings"

    def ready(self) -> None:
        from zarbek.service.findings import stages

        stages.register()
