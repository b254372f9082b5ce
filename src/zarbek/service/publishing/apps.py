"""What publishing adds to the portal."""

from django.apps import AppConfig


class PublishingConfig(AppConfig):
    """Runs the pipeline."""

    name = "zarbek.service.publishing"

    def ready(self) -> None:
        """Register its stages, and let go of runs whose project is going."""
        from zarbek.service.catalog.signals import going
        from zarbek.service.publishing import stages
        from zarbek.service.publishing.actions.runs import let_go

        stages.register()
        going.connect(let_go)
