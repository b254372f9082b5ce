"""A release as if it had nothing but what an edition has."""

from __future__ import annotations

from zarbek.core.editions.visibility import Audience
from zarbek.core.linking.index import ReleaseIndex


def restricted(index: ReleaseIndex, audience: Audience) -> ReleaseIndex:
    """The index of what an audience may read: no name of anything else is in it."""
    symbols = [entry for entry in index.symbols.values() if not audience.keeps(entry)]
    paths = {entry.path for entry in symbols}
    return ReleaseIndex(
        index.project, index.version, symbols=symbols, aliases=[a for a in index.alias_list if a.path in paths],
        scopes=index.file_scopes.values(), pages=[p for p in index.pages.values() if audience.has(p.variants)],
        assets=index.assets, manifest=index.manifest,
    )  # fmt: skip
