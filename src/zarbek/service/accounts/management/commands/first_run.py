"""Make the first administrator and the token file, once for a database and never again."""

from __future__ import annotations

import os
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand

from zarbek.service.accounts.actions.tokens import PREFIX, make_first_administrator


class Command(BaseCommand):
    """Makes the first administrator."""

    help = "Make the administrator and write password and token to the state folder, if nobody ever has."

    def handle(self, *args: Any, **options: Any) -> None:
        """Make them, unless there ever was one."""
        make_first_administrator(_write_secrets)


def _write_secrets() -> tuple[str, str]:
    """Whatever lies in these files is of another database: nothing of it counts here."""
    return _write_secret(settings.HOME / "admin-password", ""), _write_secret(settings.HOME / "admin-token", PREFIX)


def _write_secret(path: Path, prefix: str) -> str:
    """A new secret, in a file that only its owner can read."""
    secret = prefix + secrets.token_urlsafe(24)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.unlink(missing_ok=True)
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w") as handle:
        handle.write(secret + "\n")
    return secret
