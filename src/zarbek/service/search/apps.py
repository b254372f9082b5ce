from django.apps import AppConfig


class SearchConfig(AppConfig):
    name = "zarbek.service.search"

    def ready(self) -> None:
        from zarbek.service.search import stages

        stages.register()
