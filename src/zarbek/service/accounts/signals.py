"""What follows a sign-in, by whatever way it came."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest

from zarbek.service.accounts.actions.people import note_sign_in


def on_signed_in(request: HttpRequest, user: User, **_: object) -> None:
    """Write the session down, so that its owner sees it and may end it."""
    key = request.session.session_key
    if key:
        address, agent = request.META.get("REMOTE_ADDR", ""), request.headers.get("User-Agent", "")
        note_sign_in(user, key, address=address, agent=agent)
