from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "zarbek.service.findings"

    def ready(self) -> None:
        from zarbek.service.catalog.signals import gone
        from zarbek.service.findings import stages
        from zarbek.service.findings.tasks import on_gone

        stages.register()
        gone.connect(on_gone)
