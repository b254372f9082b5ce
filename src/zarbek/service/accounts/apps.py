from django.apps import AppConfig


class AccountsConfig(AppConfig):
    name = "zarbek.service.accounts"
