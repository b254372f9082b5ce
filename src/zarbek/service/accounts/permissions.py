"""Who may do what in the portal. Raised is what the API answers: Unauthorized to nobody, Forbidden to the wrong one."""

from __future__ import annotations

from zarbek.service.common.asker import Asker, current_asker
from zarbek.service.common.problems import Forbidden, Unauthorized


def require_someone() -> None:
    """Raises Unauthorized unless somebody is signed in."""
    if current_asker().user is None:
        raise Unauthorized("This needs a token or somebody who is signed in: set ZARBEK_TOKEN or sign in.")


def require_scope(scope: str) -> None:
    """Raises Forbidden where the token that is used was made for less."""
    asker = current_asker()
    if not asker.has_scope(scope):
        raise Forbidden(f"The token {asker.token!r} was made to {asker.scope} only.")


def is_administrator(asker: Asker) -> bool:
    """Whether an asker may do everything, in its own name and by a token for no single project."""
    return asker.is_administrator and not asker.project


def require_administrator() -> None:
    """Raises Unauthorized for nobody, and Forbidden for who is no administrator or came with a lesser token."""
    asker = current_asker()
    if asker.user is None:
        raise Unauthorized("Sign in as an administrator.")
    if not is_administrator(asker):
        raise Forbidden("Only an administrator may do this.")
    require_scope("manage")
