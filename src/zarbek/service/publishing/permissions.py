"""Who may publish what."""

from __future__ import annotations

from rest_framework.request import Request

from zarbek.service.accounts.permissions import require_writer
from zarbek.service.catalog.queries import has_project
from zarbek.service.common.problems import Forbidden


def require_someone(request: Request) -> None:
    """Raises Unauthorized where nobody is signed in: before an upload is read, of which nobody knows yet what it is."""
    if not request.user.is_authenticated:
        require_writer(request, "")


def require_known(request: Request, slug: str) -> None:
    """Raises Forbidden: a new project needs an administrator; a project's token publishes its own."""
    token_project = getattr(request.auth, "project", "")
    if not request.user.is_staff and token_project != slug and not has_project(slug):
        raise Forbidden(f"{slug} is not a project of this portal, and only an administrator may add one.")
