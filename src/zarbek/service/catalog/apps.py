from django.apps import AppConfig


class CatalogConfig(AppConfig):
    name = "zarbek.service.catalog"

    def ready(self) -> None:
        from zarbek.service.catalog.actions.projects import erase_removed
        from zarbek.service.common.chores import register_chore

        register_chore("erasing", 10, erase_removed)
