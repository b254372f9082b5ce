"""Which edition of a release whoever asks reads."""

from __future__ import annotations

from zarbek.core.editions.visibility import Audience, audience_of
from zarbek.core.model.bundle import Manifest
from zarbek.core.model.edition import NOTHING, Edition
from zarbek.service.catalog.models import Release
from zarbek.service.catalog.permissions import role_in
from zarbek.service.catalog.visibility import Hidden
from zarbek.service.common.asker import EDITION, Asker, current_asker

#: Remembered of an asker: in which projects it has a part.
_ROLES = "roles"
_IN_PART = "read in part"


def edition_name_of(manifest: Manifest) -> str:
    """The edition of a release that the asker reads; empty for all of it.

    Of a project without editions everybody reads all. Who has a part in the project reads all, or the edition that is
    asked for; others that one if they may, else the first that they may read.
    """
    if not manifest.editions:
        return ""
    asked = str(current_asker().remembered.get(EDITION, ""))
    if reads_all(manifest):
        return asked if asked in manifest.editions else ""
    allowed = list_allowed(manifest)
    return asked if asked in allowed else next(iter(allowed), "\0")


def list_allowed(manifest: Manifest) -> list[str]:
    """The editions that the asker may read, in the order in which the project has them."""
    asker, has_all = current_asker(), reads_all(manifest)
    return [name for name, edition in manifest.editions.items() if has_all or _may_read(asker, edition)]


def reads_all(manifest: Manifest) -> bool:
    """Whether the asker may read all of a release, whatever editions it has."""
    return current_asker().sees_everything or _has_part(current_asker(), manifest.project)


def _may_read(asker: Asker, edition: Edition) -> bool:
    return edition.readers == "public" or (edition.readers == "inside" and asker.user is not None)


def _has_part(asker: Asker, slug: str) -> bool:
    roles = asker.remembered.setdefault(_ROLES, {})
    assert isinstance(roles, dict)
    if slug not in roles:
        roles[slug] = bool(asker.user is not None and role_in(asker, slug))
    return bool(roles[slug])


def audience_for(manifest: Manifest) -> Audience:
    """Whom what is read now of a release is for."""
    name = edition_name_of(manifest)
    return audience_of(manifest.options, manifest.editions.get(name, NOTHING) if name else None)


def edition_key() -> tuple[str, bool, frozenset[str]]:
    """What tells apart those who ask, as far as editions do: of pages that are kept for all of a kind."""
    asker = current_asker()
    asked = str(asker.remembered.get(EDITION, ""))
    if asker.sees_everything:
        return asked, True, frozenset("*")
    return asked, asker.user is not None, frozenset([str(asker.user)] if asker.user is not None else [])


def projects_read_in_part() -> Hidden:
    """Projects of which the asker reads an edition and no more: what is wrong in them is for others."""
    asker = current_asker()
    if asker.sees_everything:
        return Hidden()
    known = asker.remembered.get(_IN_PART)
    if not isinstance(known, Hidden):
        rows = set(Release.objects.filter(has_editions=True).values_list("project_id", "project__slug"))
        found = [(pk, slug) for pk, slug in rows if not _has_part(asker, slug)]
        known = Hidden(frozenset(pk for pk, _ in found), frozenset(slug for _, slug in found))
        asker.remembered[_IN_PART] = known
    return known
