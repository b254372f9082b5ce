from django.apps import AppConfig


class FindingsConfig(AppConfig):
    name = "zarbek.service.findings"

    def ready(self) -> None:
        from zarbek.service.catalog import signals
        from zarbek.service.findings import reactions, stages
        from zarbek.service.findings.tasks import on_gone

        stages.register()
        signals.gone.connect(on_gone)
        signals.judging_changed.connect(reactions.on_judging_changed)
        signals.hold_overridden.connect(reactions.on_hold_overridden)
        signals.outside_changed.connect(reactions.on_outside_changed)
