"""Who may do what. Raised is what the API answers: Unauthorized to nobody, Forbidden to the wrong one."""

from __future__ import annotations

from typing import Any

from zarbek.service.accounts.models import Token
from zarbek.service.common.problems import Forbidden, Unauthorized


def require_writer(request: Any, project: str) -> None:
    """Raises Unauthorized or Forbidden unless the caller may change this project."""
    if not request.user.is_authenticated:
        raise Unauthorized("Publishing needs a token: set ZARBEK_TOKEN or sign in.")
    token = request.auth
    if isinstance(token, Token) and token.project and token.project != project:
        raise Forbidden(f"This token may change {token.project} only, not {project}.")
    if not request.user.is_staff and not (isinstance(token, Token) and token.project == project):
        raise Forbidden(f"You may not change {project}. Ask an administrator for a token of it.")


def may_write(request: Any, project: str) -> bool:
    """Whether the caller may manage this project."""
    try:
        require_writer(request, project)
    except (Unauthorized, Forbidden):
        return False
    return True


def require_administrator(request: Any) -> None:
    """Raises Unauthorized for nobody, and Forbidden for who is no administrator or came with a project's token."""
    if not request.user.is_authenticated:
        raise Unauthorized("Sign in as an administrator.")
    if not request.user.is_staff or (isinstance(request.auth, Token) and request.auth.project):
        raise Forbidden("Only an administrator may do this.")
