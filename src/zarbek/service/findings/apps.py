"""What findings add to the portal."""

from django.apps import AppConfig


class FindingsConfig(AppConfig):
    """Judges and reports after a publish, and answers to what projects do."""

    name = "zarbek.service.findings"

    def ready(self) -> None:
        """Register its stages and what it reacts to."""
        from zarbek.service.catalog import signals
        from zarbek.service.findings import reactions, stages
        from zarbek.service.findings.tasks import on_gone

        stages.register()
        signals.gone.connect(on_gone)
        signals.judging_changed.connect(reactions.on_judging_changed)
        signals.hold_overridden.connect(reactions.on_hold_overridden)
        signals.outside_changed.connect(reactions.on_outside_changed)
