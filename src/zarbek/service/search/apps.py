from django.apps import AppConfig


class SearchConfig(AppConfig):
    name = "zarbek.service.search"

    def ready(self) -> None:
        from zarbek.service.catalog.signals import gone
        from zarbek.service.search import stages
        from zarbek.service.search.actions import forget_releases

        stages.register()
        gone.connect(forget_releases)
