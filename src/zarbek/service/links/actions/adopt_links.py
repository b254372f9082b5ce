"""A release that begins with the links of another one of its project."""

from __future__ import annotations

from django.db.transaction import atomic

from zarbek.service.catalog.models import Release
from zarbek.service.links.models import Dependence

#: What linking keeps of a release, besides how often it did.
_ADOPTED = ("links", "choices", "first_choices", "text_history", "declaration_history", "health", "edges")


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
