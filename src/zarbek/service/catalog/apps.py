"""What the catalog adds to the portal."""

from django.apps import AppConfig


class CatalogConfig(AppConfig):
    """Erases what was removed."""

    name = "zarbek.service.catalog"

    def ready(self) -> None:
        """Register its chores."""
        from zarbek.service.catalog.actions.findable import forget_old_search_changes
        from zarbek.service.catalog.actions.portal_changes import forget_old_changes
        from zarbek.service.catalog.actions.projects import erase_removed
        from zarbek.service.common.chores import register_chore

        register_chore("erasing", 10, erase_removed)
        register_chore("old changes", 3600, forget_old_changes)
        register_chore("old search changes", 3600, forget_old_search_changes)
