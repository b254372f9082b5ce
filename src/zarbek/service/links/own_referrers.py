"""Which texts of a release refer to what in their own project: documents by the unit of what they refer to.

Nobody else asks for these, so they need no rows of their own.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Collection, Iterable, Mapping

import msgspec

from zarbek.core.linking.dependency_trace import Asked
from zarbek.service.catalog.models import Release
from zarbek.service.common.compute_once import remembering
from zarbek.service.common.packing import pack, unpack
from zarbek.service.content.queries import find_unit_of, get_contents
from zarbek.service.links.documents import ReferrerBlock, Text
from zarbek.service.links.models import LinkDocument


class OwnReferrers:
    """Collects who refers to what. known: unit to the id of the document that is kept, as in LinkMap."""

    def __init__(self, release: Release, known: Mapping[str, int] | None = None) -> None:
        self.project = release.project.slug
        self._contents = get_contents(release.pk)
        self._known = known or {}
        self._units: dict[str, str] = {}
        self._blocks: dict[str, dict[str, set[Text]]] = {}

    def add(self, text: Text, targets: Iterable[Asked]) -> None:
        """Note that a text refers to targets; those of other projects are left out."""
        for path in self._own(targets):
            self._block_of(path)[path].add(text)

    def remove(self, text: Text, targets: Iterable[Asked]) -> None:
        """Note that it no longer does."""
        for path in self._own(targets):
            self._block_of(path)[path].discard(text)

    def _own(self, targets: Iterable[Asked]) -> Iterable[str]:
        return (path for project, path in targets if project == self.project)

    def _block_of(self, path: str) -> dict[str, set[Text]]:
        unit = self._units.get(path)
        if unit is None:
            unit = self._units[path] = find_unit_of(self._contents, path)
        if unit not in self._blocks:
            kept = _read(self._known.get(unit, 0))
            self._blocks[unit] = defaultdict(set, {known: set(texts) for known, texts in kept.items()})
        return self._blocks[unit]

    def documents(self) -> dict[str, bytes]:
        """Unit to its document, of units that were touched; empty where nothing refers to anything there."""
        made: dict[str, bytes] = {}
        for unit, block in self._blocks.items():
            told = {path: sorted(texts) for path, texts in sorted(block.items()) if texts}
            made[unit] = pack(told) if told else b""
        return made


class _ReferrerMap(msgspec.Struct):
    """Of a LinkMap only what is asked for here, which is read several times as fast."""

    referrers: dict[str, int] = {}


def own_referrers_of(release: Release, paths: Collection[str]) -> set[Text]:
    """Texts of a release that refer to one of these paths of its own project."""
    return {text for texts in own_referrers_by_path(release, paths).values() for text in texts}


def own_referrers_by_path(release: Release, paths: Collection[str]) -> dict[str, set[Text]]:
    """The same by path, for those that any refer to."""
    data = Release.objects.values_list("links", flat=True).get(pk=release.pk)
    known = unpack(data, _ReferrerMap).referrers if data else {}
    contents = get_contents(release.pk)
    blocks = {path: _cached(known.get(find_unit_of(contents, path), 0)) for path in (paths if known else ())}
    return {path: block[path] for path, block in blocks.items() if path in block}


def _read(document_id: int) -> ReferrerBlock:
    if not document_id:
        return {}
    return unpack(LinkDocument.objects.values_list("document", flat=True).get(pk=document_id), ReferrerBlock)


@remembering(100_000, lambda block: 1 + len(block))
def _cached(document_id: int) -> ReferrerBlock:
    """Documents never change under their id."""
    return _read(document_id)
