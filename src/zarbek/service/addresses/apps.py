"""What addresses of the web add to the portal."""

from django.apps import AppConfig


class AddressesConfig(AppConfig):
    """Asks addresses of the web after a publish, and again later."""

    name = "zarbek.service.addresses"

    def ready(self) -> None:
        """Register its stage and chore."""
        from zarbek.service.addresses import stages

        stages.register()
