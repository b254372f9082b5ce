"""Make the first administrator and the token file, once."""

from __future__ import annotations

import os
import secrets
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth.models import User
from django.core.management.base import BaseCommand

from zarbek.service.accounts.actions import create_token, digest_token
from zarbek.service.accounts.models import Token


class Command(BaseCommand):
    help = "Make the administrator and write the token to the state folder, unless they are there."

    def handle(self, *args: Any, **options: Any) -> None:
        user = User.objects.filter(username="admin").first()
        if user is None:
            user = User(username="admin", is_staff=True, is_superuser=True)
        password = _secret(settings.HOME / "admin-password")
        if not user.check_password(password):
            user.set_password(password)
            user.save()
        text = _secret(settings.HOME / "admin-token", prefix="zbk_")
        if not Token.objects.filter(digest=digest_token(text)).exists():
            create_token(user=user, name="first administrator", text=text)


def _secret(path: Path, prefix: str = "") -> str:
    """The secret in a file that only its owner can read; made if missing."""
    if not path.is_file():
        path.parent.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "w") as handle:
            handle.write(prefix + secrets.token_urlsafe(24) + "\n")
    return path.read_text().strip()
