"""What findings add to the portal."""

from django.apps import AppConfig


class FindingsConfig(AppConfig):
    """Judges and reports after a publish, and answers to what projects do."""

    name = "zarbek.service.findings"

    def ready(self) -> None:
        """Register its stages and what it reacts to."""
        from zarbek.service.catalog import signals
        from zarbek.service.common.chores import register_chore
        from zarbek.service.findings import reactions, stages, tasks
        from zarbek.service.findings.actions.patching import forget_patches

        stages.register()
        register_chore("changes", 300, tasks.follow_overdue)
        register_chore("patches", 3600, forget_patches)
        signals.changed.connect(tasks.on_changed)
        signals.judging_ended.connect(reactions.on_judging_ended)
