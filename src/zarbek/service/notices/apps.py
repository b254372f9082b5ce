"""What notices add to the portal."""

from django.apps import AppConfig


class NoticesConfig(AppConfig):
    """Tells of a publish, delivers events, and mails digests."""

    name = "zarbek.service.notices"

    def ready(self) -> None:
        """Register its stage and chores."""
        from zarbek.service.notices import stages

        stages.register()
