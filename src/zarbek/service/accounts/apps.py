from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "zarbek.service.accounts"

    def ready(self) -> None:
        from zarbek.service.accounts.actions import forget_tallies
        from zarbek.service.common.chores import register_chore

        register_chore("tallies", 3600, forget_tallies)
