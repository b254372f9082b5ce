"""Where symbols went."""

from __future__ import annotations

from zarbek.core.linking.moves import find_moves
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import get_manifest, load_index
from zarbek.service.links.models import Relocation


def keep_relocations(old: Release, new: Release) -> int:
    """Remember where symbols went, so that their old addresses lead there; how many."""
    moves = find_moves(load_index(old.pk), load_index(new.pk))
    version = get_manifest(new.pk).version
    rows = Relocation.objects.filter(project=new.project, version=version)
    known = set(rows.values_list("old", flat=True))
    made = [
        Relocation(project=new.project, old=m.old[:600], new=m.new[:600], version=version, certain=m.certain, why=m.why)
        for m in moves.values()
        if m.old[:600] not in known
    ]
    return len(Relocation.objects.bulk_create(made, batch_size=500))
