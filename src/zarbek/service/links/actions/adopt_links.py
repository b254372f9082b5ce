"""A release that begins with the links of another one of its project."""

from __future__ import annotations

from django.db.transaction import atomic

from zarbek.service.catalog.models import Release
from zarbek.service.links.actions.keep_links import KEPT
from zarbek.service.links.models import Dependence

_ADOPTED = [name for name in KEPT if name != "link_revision"]


def adopt_links(release: Release, before: int) -> bool:
    """Give a release, which nobody sees yet, the links of another by primary key; whether there is that one still."""
    with atomic():
        old = Release.objects.filter(pk=before).first()
        if old is None:
            return False
        for name in _ADOPTED:
            setattr(release, name, getattr(old, name))
        release.save(update_fields=_ADOPTED)
        rows = old.dependences.values_list("project", "version")
        Dependence.objects.bulk_create([Dependence(release=release, project=p, version=v) for p, v in rows])
    return True
