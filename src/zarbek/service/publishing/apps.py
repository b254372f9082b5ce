"""What publishing adds to the portal."""

from django.apps import AppConfig


class PublishingConfig(AppConfig):
    """Runs the pipeline."""

    name = "zarbek.service.publishing"

    def ready(self) -> None:
        """Register its stages, and let go of runs whose project is going."""
        from zarbek.service.catalog.signals import going
        from zarbek.service.common.chores import register_chore
        from zarbek.service.publishing import stages
        from zarbek.service.publishing.actions.runs import let_go
        from zarbek.service.publishing.actions.sweeping import sweep_runs

        stages.register()
        going.connect(let_go)
        register_chore("old runs", 600, sweep_runs)
