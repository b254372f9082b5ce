"""What accounts adds to the portal."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Forgets how often somebody failed to sign in."""

    name = "zarbek.service.accounts"

    def ready(self) -> None:
        """Register its chore."""
        from zarbek.service.accounts.actions import forget_tallies
        from zarbek.service.common.chores import register_chore

        register_chore("tallies", 3600, forget_tallies)
