"""Where an old address of a symbol leads now."""

from __future__ import annotations

from zarbek.core.linking.versions import sort_key
from zarbek.core.model.naming import enclosing_of
from zarbek.service.catalog.models import Release
from zarbek.service.content.queries import find_entry
from zarbek.service.links.models import Relocation

MAX_STEPS = 50


def follow(release: Release, path: str) -> str:
    """The path in a release of a symbol that was at another path in an earlier one; empty where it is
    not known. Chains collapse; a chain that returns to where it was ends.

    Cost: a query a step.
    """
    seen = {path}
    for _ in range(MAX_STEPS):
        following = _step(release, path)
        if not following or following in seen:
            return ""
        entry = find_entry(release.pk, following)
        if entry is not None:
            return entry.symbol.path
        seen.add(following)
        path = following
    return ""


def _step(release: Release, path: str) -> str:
    """Where a path, or what encloses it, went; by the last move up to the release."""
    ecosystem = release.project.ecosystem
    last = sort_key(release.version, ecosystem)
    head, rest = path, ""
    while head:
        rows = Relocation.objects.filter(project=release.project, old=head).values_list("version", "new")
        known = [(key, new) for v, new in rows if (key := sort_key(v, ecosystem)) <= last]
        if known:
            return max(known)[1] + rest
        shorter = enclosing_of(head)
        head, rest = shorter, head[len(shorter) :] + rest
    return ""
