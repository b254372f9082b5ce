"""What accounts adds to the portal."""

from django.apps import AppConfig


class AccountsConfig(AppConfig):
    """Forgets sessions that have run out, and how often somebody failed to sign in."""

    name = "zarbek.service.accounts"

    def ready(self) -> None:
        """Register its chores."""
        from django.contrib.auth.signals import user_logged_in

        from zarbek.service.accounts.actions.people import forget_sessions
        from zarbek.service.accounts.actions.tallies import forget_tallies
        from zarbek.service.accounts.signals import on_signed_in
        from zarbek.service.common.chores import register_chore

        register_chore("tallies", 3600, forget_tallies)
        user_logged_in.connect(on_signed_in)
        register_chore("sessions", 3600, forget_sessions)
