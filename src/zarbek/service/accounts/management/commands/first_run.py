"""Make the first administrator and the token file, once for a database and never again."""

from __future__ import annotations

import os
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand
from django.db import transaction

from zarbek.service.accounts.actions import create_token
from zarbek.service.accounts.models import FirstRun


class Command(BaseCommand):
    help = "Make the administrator and write password and token to the state folder, if nobody ever has."

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        _, is_first = FirstRun.objects.get_or_create(pk=1)
        if not is_first:
            return
        # Whatever lies in these files is of another database: nothing of it counts here.
        password, token = (_write_secret(settings.HOME / name, prefix) for name, prefix in _FILES)
        user = User(username="admin", is_staff=True, is_superuser=True)
        user.set_password(password)
        user.save()
        create_token(user=user, name="first administrator", text=token)


_FILES = (("admin-password", ""), ("admin-token", "zbk_"))


def _write_secret(path: Path, prefix: str) -> str:
    """A new secret, in a file that only its owner can read."""
    secret = prefix + secrets.token_urlsafe(24)
    path.parent.mkdir(parents=True, exist_ok=True)
    path.unlink(missing_ok=True)
    descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    with os.fdopen(descriptor, "w") as handle:
        handle.write(secret + "\n")
    return secret
