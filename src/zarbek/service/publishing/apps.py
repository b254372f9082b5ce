from django.apps import AppConfig


class PublishingConfig(AppConfig):
    name = "zarbek.service.publishing"

    def ready(self) -> None:
        from zarbek.service.catalog.signals import going
        from zarbek.service.publishing import stages
        from zarbek.service.publishing.actions.runs import let_go

        stages.register()
        going.connect(let_go)
