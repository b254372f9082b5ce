"""What links add to the portal."""

from django.apps import AppConfig


class LinksConfig(AppConfig):
    """Links a release, and compares it with the one before."""

    name = "zarbek.service.links"

    def ready(self) -> None:
        """Register its stages and its chore."""
        from zarbek.service.common.chores import register_chore
        from zarbek.service.links import stages, tasks

        stages.register()
        register_chore("sweeping", 600, tasks.begin_sweep)
