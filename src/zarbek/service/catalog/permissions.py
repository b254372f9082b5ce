"""Who may do what in a project. Raised is what the API answers: Unauthorized to nobody, Forbidden to the wrong one, and
NotFound for what the asker may not know of."""

from __future__ import annotations

from django.db.models import Q

from zarbek.service.accounts.permissions import is_administrator, require_scope, require_someone
from zarbek.service.catalog.actions.members import ROLES
from zarbek.service.catalog.models import Project
from zarbek.service.catalog.visibility import memberships_of
from zarbek.service.common.asker import Asker, current_asker
from zarbek.service.common.problems import Forbidden, NotFound, Problem, Unauthorized


def role_in(asker: Asker, slug: str) -> str:
    """The part that an asker has in a project; empty for none."""
    if asker.user is None or (asker.project and asker.project != slug):
        return ""
    if asker.is_administrator:
        return "owner"
    rows = memberships_of(asker.user)
    own = rows.filter(Q(project__slug=slug) | Q(project__companion__slug=slug))  # What is written of it is its own.
    roles = [*own.values_list("role", flat=True),
             *rows.filter(project=None).values_list("role", flat=True)]  # fmt: skip
    return max(roles, key=ROLES.index, default="")


def require_maintainer(slug: str) -> None:
    """Raises Unauthorized, Forbidden or NotFound unless the asker may publish a project, waive its findings and say
    what of it is supported."""
    _require(slug, "maintainer", "publish")


def require_owner(slug: str) -> None:
    """Raises the same unless the asker may decide on a project's members, policy, tokens and visibility."""
    _require(slug, "owner", "manage")


def _require(slug: str, role: str, scope: str) -> None:
    require_someone()
    asker = current_asker()
    if asker.project and asker.project != slug:
        raise Forbidden(f"This token may change {asker.project} only, not {slug}.")
    found = role_in(asker, slug)
    if not found and not Project.objects.filter(slug=slug).exists():
        raise _unknown(slug)
    if not found or ROLES.index(found) < ROLES.index(role):
        raise Forbidden(f"Only who is {role} of {slug} may do this. Ask one of its owners, or an administrator.")
    require_scope(scope)


def _unknown(slug: str) -> Problem:
    return NotFound(f"There is no project {slug} in this portal.")


def may_maintain(slug: str) -> bool:
    """Whether the asker may change a project."""
    try:
        require_maintainer(slug)
    except (Unauthorized, Forbidden, NotFound):
        return False
    return True


def require_publisher(slug: str) -> None:
    """Raises the same unless the asker may publish under a slug; a new project takes an administrator, or a token of
    one for it."""
    if is_administrator(current_asker()) or current_asker().project == slug:
        _require(slug, "maintainer", "publish")
        return
    require_someone()
    if not current_asker().project and not Project.objects.filter(slug=slug).exists():
        raise Forbidden(f"{slug} is not a project of this portal, and only an administrator may add one.")
    _require(slug, "maintainer", "publish")


def owned_projects() -> list[str]:
    """Slugs of the projects that the asker owns by a part in them, without those of an administrator."""
    asker = current_asker()
    if asker.user is None:
        return []
    rows = memberships_of(asker.user).filter(role="owner")
    if rows.filter(project=None).exists():
        return list(Project.objects.values_list("slug", flat=True))
    return list(rows.values_list("project__slug", flat=True))
