from django.apps import AppConfig


class AddressesConfig(AppConfig):
    name = "zarbek.service.addresses"

    def ready(self) -> None:
        from zarbek.service.addresses import stages

        stages.register()
