"""What sources add to the portal."""

from django.apps import AppConfig


class SourcesConfig(AppConfig):
    """Gathers repositories and running services, and asks them for what is new."""

    name = "zarbek.service.sources"

    def ready(self) -> None:
        """Register its stage and chores."""
        from zarbek.service.common.chores import register_chore
        from zarbek.service.sources import stages
        from zarbek.service.sources.actions import sweep_heard
        from zarbek.service.sources.schedule import poll_due_databases, poll_due_services, poll_due_sources

        stages.register()
        register_chore("sources", 60, poll_due_sources)
        register_chore("services", 60, poll_due_services)
        register_chore("databases", 60, poll_due_databases)
        register_chore("what was heard before", 3600, sweep_heard)
